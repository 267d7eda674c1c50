<script setup lang="ts">
/** Sizes of bubbles. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { diameterOf, roomyLargest } from '@/drawing/marks/bubbles'
import { homeView } from '@/drawing/layout/extents'
import { useFigure } from '@/stores/figure'
import Choice from './Choice.vue'
import Slider from './Slider.vue'

type Size = NonNullable<FigureDocument['size']>

const MEASURES = [
  { value: 'area', label: 'area' },
  { value: 'diameter', label: 'diameter' },
] as const
const STARTS = [
  { value: 'zero', label: 'from zero' },
  { value: 'smallest', label: 'from the smallest' },
] as const
/** To find room among more bubbles takes longer than a hand waits. */
const MOST_TRIED = 5000

const figure = useFigure()
const size = computed(() => figure.document!.size!)
const set = (change: Partial<Size>, what = '') =>
  figure.edit((draft) => Object.assign(draft.size!, change), what)

/** The largest size at which under a fifth of the ink overlaps, on the figure as it stands. */
const roomy = computed((): number | null => {
  const drawn = figure.drawn
  if (!drawn?.marks.size || !drawn.answer.size || drawn.marks.row.length > MOST_TRIED) return null
  const { x, y } = homeView(drawn)
  const { width, height } = drawn.document.page
  const diameter = diameterOf({ ...size.value, largest: 100 }, drawn.answer.size)
  const along = (values: Float64Array, [low, high]: readonly [number, number], length: number) =>
    Float32Array.from(values, (v) => ((v - low) / (high - low)) * length)
  return roomyLargest(
    along(drawn.marks.x, x, width * 0.86),
    along(drawn.marks.y, y, height * 0.84),
    Float32Array.from(drawn.marks.size, (v) => diameter(v) / 100),
    120,
  )
})
const crowded = computed(() => roomy.value !== null && size.value.largest > roomy.value)
</script>

<template>
  <Slider
    label="Largest bubble"
    :value="size.largest"
    :min="6"
    :max="120"
    :text="`${size.largest} pt`"
    @set="set({ largest: $event }, 'largest bubble')"
  />
  <p v-if="crowded" class="offer" role="status">
    More than a fifth of the bubbles’ ink overlaps.
    <button type="button" class="link" @click="set({ largest: roomy! })">
      Take {{ roomy }} pt instead
    </button>
  </p>
  <Choice
    label="The value sets the"
    :value="size.measure"
    :options="MEASURES"
    @set="set({ measure: $event })"
  />
  <Choice label="Sizes run" :value="size.start" :options="STARTS" @set="set({ start: $event })" />
</template>

<style scoped>
.offer {
  font-size: 14px;
}
</style>
