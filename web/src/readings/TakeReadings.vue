<script setup lang="ts">
/** The readings taken elsewhere: copied as text or Markdown, saved as JSON or CSV. */
import { computed, ref } from 'vue'
import { dateText } from '@/drawing/geometry/ticks'
import { save } from '@/handon/images'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import { figureName } from '@/kinds'
import { asCsv, asJson, carriedCsv, written } from './writing'

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
    `${title.value} carried on.csv`,
  )

/** As a table of the study: read in like any file, so that it is seen before it counts. */
const takeIn = (): void =>
  emit('file', new File([carriedCsv(answer.value, shown)], `${title.value} carried on.csv`))

const shown = (x: number): string =>
  answer.value.x.variable.kind === 'date' ? dateText(x) : String(x)
</script>

<template>
  <div class="take">
    <span class="quiet">Readings:</span>
    <button type="button" class="link" @click="copy(false)">copy</button>
    <button type="button" class="link" @click="copy(true)">copy as Markdown</button>
    <button type="button" class="link" @click="file(asCsv(answer), 'csv', 'text/csv')">
      save as CSV
    </button>
    <button type="button" class="link" @click="file(asJson(answer), 'json', 'application/json')">
      save as JSON
    </button>
    <button v-if="hasCarried" type="button" class="link" @click="saveCarried">
      save what is carried on
    </button>
    <button v-if="hasCarried" type="button" class="link" @click="takeIn">make a table of it</button>
    <span v-if="said" role="status" class="quiet">{{ said }}</span>
  </div>
</template>

<style scoped>
.take {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  font-size: 14px;
  padding: 0 2px;
}
</style>
