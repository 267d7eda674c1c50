<script setup lang="ts">
/** Several fits in one look: the main number of each. */
import { computed } from 'vue'
import type { TrendAnswer } from '@/api/types'
import { mainLines } from './writing'

const props = defineProps<{
  fits: readonly TrendAnswer[]
  colourOf: (trend: TrendAnswer) => string
}>()

const lines = computed(() =>
  props.fits.map((trend) => {
    const [main] = mainLines(trend.report)
    const { report } = trend
    return {
      colour: props.colourOf(trend),
      whom: report.group ?? 'All rows',
      form: props.fits.some(({ family_label }) => family_label !== trend.family_label)
        ? trend.family_label
        : '',
      main: report.problem ? { label: '', value: 'no fit' } : main,
    }
  }),
)
</script>

<template>
  <article class="card" aria-label="Readings at a glance">
    <ul class="plain-list">
      <li v-for="(line, i) in lines" :key="i" class="glance">
        <span class="glance__line sample" :style="{ '--of': line.colour }" />
        <span class="glance__whom clipped" :title="line.whom">
          {{ line.whom }} <span v-if="line.form" class="quiet">{{ line.form }}</span>
        </span>
        <span class="glance__number">{{ line.main.label }} {{ line.main.value }}</span>
      </li>
    </ul>
  </article>
</template>

<style scoped>
.glance {
  display: flex;
  align-items: center;
  gap: 8px;
}

.glance__line {
  flex: none;
  width: 16px;
  height: 3px;
}

.glance__whom {
  flex: 1;
  min-width: 0;
}

.glance__number {
  font-weight: 600;
  font-variant-numeric: tabular-nums;
}
</style>
