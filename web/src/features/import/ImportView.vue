<script setup lang="ts">
/** Reading in a file: seen and corrected before it counts. */
import { computed, onMounted, useTemplateRef } from 'vue'
import type { TableTaken } from '@/api/types'
import { countOf } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiProgress from '@/ui/UiProgress.vue'
import UiRow from '@/ui/UiRow.vue'
import CorrectionForm from './CorrectionForm.vue'
import FirstRows from './FirstRows.vue'
import { useReading } from './reading'

const props = defineProps<{
  file: File
  /** The table whose rows it takes the place of; null for a table of its own. */
  again?: string | null
}>()
const emit = defineEmits<{ taken: [made: TableTaken]; replaced: [said: string]; left: [] }>()

/** It takes the place of all else, and the focus with it. */
const head = useTemplateRef<HTMLElement>('head')
onMounted(() => head.value?.focus())

const reading = useReading(props.file, props.again ?? null, {
  taken: (made) => emit('taken', made),
  replaced: (said) => emit('replaced', said),
})
const { preview, problem, work, replaced, compared, listOf } = reading
const isReady = computed(() => preview.value !== null && !problem.value && !work.value)
</script>

<template>
  <section class="read" aria-label="Import a file">
    <header class="read__head">
      <div>
        <h1 ref="head" class="ui-panel__title" tabindex="-1">{{ file.name }}</h1>
        <p v-if="preview" class="quiet">
          {{ countOf(preview.rows, 'row') }}, {{ countOf(preview.variables.length, 'variable') }}.
          <template v-if="replaced"
            >They take the place of the rows of {{ replaced.name }}.</template
          >
          <template v-else>Check how it was read before it is imported.</template>
        </p>
      </div>
      <UiRow>
        <UiAction @click="emit('left')">{{ work ? 'Stop' : 'Cancel' }}</UiAction>
        <UiAction
          v-if="(preview?.sheets.length ?? 0) > 1 && !replaced"
          :disabled="!isReady"
          @click="reading.takeEvery"
        >
          Import all {{ preview?.sheets.length }} tables
        </UiAction>
        <UiAction kind="main" :disabled="!isReady" @click="reading.takeIn">
          {{ replaced ? 'Replace rows' : 'Import' }}
        </UiAction>
      </UiRow>
    </header>
    <UiProgress v-if="work" class="card" :label="work.what" :share="work.share" />
    <UiNote v-if="compared?.gone.length" kind="wrong" role="status">
      No longer in the file: {{ listOf(compared.gone) }}. Figures that show
      {{ compared.gone.length === 1 ? 'it' : 'them' }} will say so.
    </UiNote>
    <UiNote v-if="compared?.new.length" class="card" kind="plain" role="status">
      New in the file: {{ listOf(compared.new) }}.
    </UiNote>
    <UiNote v-if="problem" kind="wrong">
      <strong>{{ problem.message }}</strong> {{ problem.detail }}
    </UiNote>
    <UiNote v-for="caution in preview?.cautions ?? []" :key="caution" kind="wrong" role="status">
      {{ caution }}
    </UiNote>
    <CorrectionForm
      v-if="preview"
      :preview="preview"
      :corrected="reading.corrected.value"
      :name="replaced ? null : reading.name.value"
      @correct="reading.correct"
      @sheet="reading.setSheet"
      @missing="reading.setMissing"
      @name="reading.name.value = $event"
    />
    <FirstRows v-if="preview" :preview="preview" @kind="reading.setKind" />
  </section>
</template>

<style scoped>
.read {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 12px 12px 8px;
  height: 100%;
}

.read h1 {
  width: fit-content;
  margin-bottom: 4px;
}

.read__head {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}
</style>
