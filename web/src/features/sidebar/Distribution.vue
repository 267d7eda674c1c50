<script setup lang="ts">
/** A variable's values as a tiny picture. */
import { computed } from 'vue'
import type { VariableSummary } from '@/api/types'
import { toHex } from '@/render/colours'
import { categoryColour } from '@/render/marks/looks'
import { useStudy } from '@/stores/study'

const WIDTH = 52
const HEIGHT = 15

const studies = useStudy()
const props = defineProps<{ variable: VariableSummary }>()

const bars = computed(() => {
  const steps = props.variable.distribution ?? []
  const most = Math.max(1, ...steps)
  const width = WIDTH / Math.max(1, steps.length)
  return steps.map((count, i) => {
    const height = count ? Math.max(1.5, (count / most) * HEIGHT) : 0
    return { x: i * width, y: HEIGHT - height, width: width - 1, height }
  })
})

/** Categories as one bar, cut in proportion; only as many as can be told apart so small. */
const shares = computed(() => {
  const counts = props.variable.counts ?? {}
  const looks = studies.looksOf(props.variable.name).filter(({ value }) => value in counts)
  if (!looks.length || looks.length > 8) return []
  const total = Object.values(counts).reduce((sum, count) => sum + count, 0)
  let x = 0
  return looks.map(({ value, turn, colour }) => {
    const width = (counts[value] / total) * WIDTH
    const fill = toHex(categoryColour(turn, colour))
    const share = { x, width: Math.max(0.5, width - 1), fill }
    x += width
    return share
  })
})
</script>

<template>
  <svg :width="WIDTH" :height="HEIGHT" aria-hidden="true">
    <rect v-for="(bar, i) in bars" :key="i" v-bind="bar" class="bar" />
    <rect
      v-for="(share, i) in shares"
      :key="`c${i}`"
      :x="share.x"
      y="5"
      :width="share.width"
      height="7"
      class="sample-fill"
      :style="{ '--of': share.fill }"
    />
  </svg>
</template>

<style scoped>
.bar {
  fill: var(--distribution);
}
</style>
