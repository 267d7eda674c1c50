<script setup lang="ts">
/** The controls of the part that is selected. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import AxisTuning from './AxisTuning.vue'
import LegendTuning from './LegendTuning.vue'
import MarksTuning from './MarksTuning.vue'
import RowTuning from './RowTuning.vue'
import TitleTuning from './TitleTuning.vue'
import TrendTuning from './TrendTuning.vue'

const figure = useFigure()

const part = computed(() => figure.tuned ?? 'title')
const numbered = computed(() => Number(part.value.split('-')[1]))

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
  if (part.value.startsWith('row-')) return `Row ${numbered.value + 1}`
  return NAMES[part.value] ?? NAMES[part.value.split('-')[0]] ?? ''
})
</script>

<template>
  <section class="card tuning" :aria-label="`Tuning of ${heading}`" data-testid="tuning">
    <header class="tuning__head">
      <h2 class="tuning__title">{{ heading }}</h2>
      <button type="button" class="link" @click="figure.tuned = null">Readings</button>
    </header>
    <AxisTuning v-if="part === 'x-axis'" key="x" axis="x" />
    <AxisTuning v-else-if="part === 'y-axis'" key="y" axis="y" />
    <MarksTuning v-else-if="part === 'marks'" />
    <LegendTuning v-else-if="part === 'legend'" />
    <TitleTuning v-else-if="part === 'title'" />
    <RowTuning v-else-if="part.startsWith('row-')" :row="numbered" />
    <TrendTuning v-else :trend="part === 'readings' ? 0 : numbered" />
  </section>
</template>

<style scoped>
.tuning {
  display: grid;
  gap: 12px;
}

.tuning__head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

.tuning__title {
  font-size: 16px;
  font-weight: 600;
}
</style>
