<script setup lang="ts">
/** The controls of the part that is selected. */
import { computed, toRef, useTemplateRef } from 'vue'
import { useLighting } from '@/ui/composables/highlight'
import type { Part } from '@/render/scene'
import SidePanel from '@/components/SidePanel.vue'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import AxisTuning from './AxisTuning.vue'
import LegendTuning from './LegendTuning.vue'
import MatrixTuning from './MatrixTuning.vue'
import MarksTuning from './MarksTuning.vue'
import ReferenceList from './ReferenceList.vue'
import RowTuning from './RowTuning.vue'
import DistributionTuning from './DistributionTuning.vue'
import PlaneTuning from './PlaneTuning.vue'
import SpaceTuning from './SpaceTuning.vue'
import NoteTuning from './NoteTuning.vue'
import TrendTuning from './TrendTuning.vue'
import WordsTuning from './WordsTuning.vue'

const side = useSide()
const root = useTemplateRef<HTMLElement>('root')
useLighting(toRef(side, 'sought'), root)

const props = defineProps<{ part: Part }>()

const figure = useFigure()
const numbered = computed(() => Number(props.part.split('-')[1]))

const NAMES: Record<string, string> = {
  'x-axis': 'x axis',
  'y-axis': 'y axis',
  marks: 'Marks',
  legend: 'Legend',
  names: 'Marks and labels',
  sizes: 'Legend',
  title: 'Titles and page',
  subtitle: 'Titles and page',
  caption: 'Titles and page',
  ground: 'Titles and page',
  reference: 'Reference line',
  note: 'Note',
  readings: 'Readings on the figure',
  matrix: 'Matrix',
  distribution: 'Distribution',
  space: 'Box',
  plane: 'Plane',
  'depth-axis': 'z axis',
  trend: 'Trend',
  read: 'Trend',
}
const WORDS: Part[] = ['title', 'subtitle', 'caption', 'ground']

/** The axis on which the reference line that was clicked has its value. */
const reference = computed(() => {
  if (!props.part.startsWith('reference-')) return null
  const axis = figure.document?.references[numbered.value]?.axis
  return axis === 'x' ? 'x' : 'y'
})
const heading = computed(() => {
  if (props.part.startsWith('row-')) return `Row ${numbered.value + 1}`
  return NAMES[props.part] ?? NAMES[props.part.split('-')[0]] ?? ''
})
</script>

<template>
  <SidePanel :heading="heading" :label="`Tuning of ${heading}`" data-testid="tuning">
    <div ref="root" class="tuned">
      <MatrixTuning v-if="part === 'matrix'" />
      <AxisTuning v-else-if="part === 'x-axis'" key="x" axis="x" />
      <AxisTuning v-else-if="part === 'y-axis'" key="y" axis="y" />
      <AxisTuning v-else-if="part === 'depth-axis'" key="depth" axis="depth" />
      <SpaceTuning v-else-if="part === 'space'" />
      <PlaneTuning v-else-if="part === 'plane'" />
      <DistributionTuning v-else-if="part === 'distribution'" />
      <MarksTuning v-else-if="part === 'marks' || part === 'names'" />
      <LegendTuning v-else-if="part === 'legend' || part === 'sizes'" />
      <WordsTuning v-else-if="WORDS.includes(part)" />
      <ReferenceList v-else-if="reference" :axis="reference" />
      <NoteTuning v-else-if="part.startsWith('note-')" :note="numbered" />
      <RowTuning v-else-if="part.startsWith('row-')" :row="numbered" />
      <TrendTuning v-else :trend="part === 'readings' ? 0 : numbered" />
    </div>
  </SidePanel>
</template>

<style scoped>
.tuned {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}

/* What was found: until something else is. */
.tuned :deep([data-lit]) {
  border-radius: var(--radius-small);
  box-shadow:
    0 0 0 4px var(--chosen),
    0 0 0 6px var(--accent);
}
</style>
