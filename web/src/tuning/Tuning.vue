<script setup lang="ts">
/** The controls of the part that is selected. */
import { computed } from 'vue'
import type { Part } from '@/drawing/scene'
import SidePanel from '@/SidePanel.vue'
import AxisTuning from './AxisTuning.vue'
import LegendTuning from './LegendTuning.vue'
import MarksTuning from './MarksTuning.vue'
import RowTuning from './RowTuning.vue'
import TitleTuning from './TitleTuning.vue'
import TrendTuning from './TrendTuning.vue'

const props = defineProps<{ part: Part }>()

const numbered = computed(() => Number(props.part.split('-')[1]))

const NAMES: Record<string, string> = {
  'x-axis': 'Axis across',
  'y-axis': 'Axis up',
  marks: 'Marks',
  legend: 'Legend',
  title: 'Title',
  readings: 'Readings on the figure',
  trend: 'Trend',
}
const heading = computed(() => {
  if (props.part.startsWith('row-')) return `Row ${numbered.value + 1}`
  return NAMES[props.part] ?? NAMES[props.part.split('-')[0]] ?? ''
})
</script>

<template>
  <SidePanel :heading="heading" :label="`Tuning of ${heading}`" data-testid="tuning">
    <AxisTuning v-if="part === 'x-axis'" key="x" axis="x" />
    <AxisTuning v-else-if="part === 'y-axis'" key="y" axis="y" />
    <MarksTuning v-else-if="part === 'marks'" />
    <LegendTuning v-else-if="part === 'legend'" />
    <TitleTuning v-else-if="part === 'title'" />
    <RowTuning v-else-if="part.startsWith('row-')" :row="numbered" />
    <TrendTuning v-else :trend="part === 'readings' ? 0 : numbered" />
  </SidePanel>
</template>
