<script setup lang="ts">
/** The readings taken elsewhere: copied as text or Markdown, saved as JSON or CSV. */
import { computed, ref } from 'vue'
import { dateText } from '@/render/geometry/ticks'
import { save } from '@/render/files/images'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import { figureName } from '@/kinds'
import { asCsv, asJson, carriedCsv, written } from './writing'
import UiAction from '@/ui/UiAction.vue'

const emit = defineEmits<{ file: [file: File] }>()

const figure = useFigure()
const studies = useStudy()
const said = ref('')
const answer = computed(() => figure.drawn!.answer)
const title = computed(() => figureName(figure.drawn!.document, studies.variableOf))
const hasCarried = computed(() => answer.value.trends.some(({ carried }) => carried.length))

async function copy(markdown: boolean): Promise<void> {
  try {
    await navigator.clipboard.writeText(written(answer.value, title.value, markdown))
    said.value = 'Copied.'
  } catch {
    said.value = 'The browser did not allow it: save them instead.'
  }
}

const file = (text: string, kind: string, type: string): void =>
  save(new Blob([text], { type }), `${title.value} readings.${kind}`)

const saveCarried = (): void =>
  save(
    new Blob([carriedCsv(answer.value, shown)], { type: 'text/csv' }),
    `${title.value} extrapolated.csv`,
  )

/** As a table of the study: read in like any file, so that it is seen before it counts. */
const takeIn = (): void =>
  emit('file', new File([carriedCsv(answer.value, shown)], `${title.value} extrapolated.csv`))

const shown = (x: number): string =>
  answer.value.x.variable.kind === 'date' ? dateText(x) : String(x)
</script>

<template>
  <div class="beside" role="group" aria-label="Copy or save the readings">
    <span class="quiet">Copy or save:</span>
    <UiAction kind="words" @click="copy(false)">Copy</UiAction>
    <UiAction kind="words" @click="copy(true)">Copy as Markdown</UiAction>
    <UiAction kind="words" @click="file(asCsv(answer), 'csv', 'text/csv')">Save as CSV</UiAction>
    <UiAction kind="words" @click="file(asJson(answer), 'json', 'application/json')">
      Save as JSON
    </UiAction>
    <UiAction v-if="hasCarried" kind="words" @click="saveCarried">
      Save extrapolated values
    </UiAction>
    <UiAction v-if="hasCarried" kind="words" @click="takeIn">Make a table of it</UiAction>
    <span v-if="said" role="status" class="quiet">{{ said }}</span>
  </div>
</template>
