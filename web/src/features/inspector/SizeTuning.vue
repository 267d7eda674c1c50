<script setup lang="ts">
/** Sizes of bubbles. */
import { computed } from 'vue'
import { mapped } from '@/render/geometry/columns'
import { diameterOf, roomyLargest } from '@/render/marks/bubbles'
import { homeView } from '@/render/layout/extents'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import Controls from './Controls.vue'
import { BUBBLES, LARGEST_BUBBLE } from '@/figure-model/controls/marks'

/** To find room among more bubbles takes longer than a hand waits. */
const MOST_TRIED = 5000

const figure = useFigure()
const size = computed(() => figure.document!.size!)

/** The largest size at which under a fifth of the ink overlaps, on the figure as it stands. */
const roomy = computed((): number | null => {
  const drawn = figure.drawn
  if (!drawn?.marks.size || !drawn.answer.size || drawn.marks.row.length > MOST_TRIED) return null
  const { x, y } = homeView(drawn)
  const { width, height } = drawn.document.page
  const diameter = diameterOf({ ...size.value, largest: 100 }, drawn.answer.size)
  const along = (values: Float64Array, [low, high]: readonly [number, number], length: number) =>
    mapped(values, (v) => ((v - low) / (high - low)) * length)
  return roomyLargest(
    along(drawn.marks.x, x, width * 0.86),
    along(drawn.marks.y, y, height * 0.84),
    mapped(drawn.marks.size, (v) => diameter(v) / 100),
    120,
  )
})
const crowded = computed(() => roomy.value !== null && size.value.largest > roomy.value)
</script>

<template>
  <Controls :of="[LARGEST_BUBBLE]" />
  <UiNote v-if="crowded" kind="plain" role="status">
    Bubbles overlap: more than a fifth of their area is covered.
    <UiAction kind="words" @click="figure.edit((draft) => (draft.size!.largest = roomy!))">
      Take {{ roomy }} pt instead
    </UiAction>
  </UiNote>
  <Controls :of="BUBBLES" />
</template>
