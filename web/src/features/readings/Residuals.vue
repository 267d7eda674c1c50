<script setup lang="ts">
/** The residuals of a trend, drawn below its figure and linked to it by the selection. */
import { computed, markRaw, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { askResiduals } from '@/api/client'
import type { ResidualsAgainst } from '@/api/types'
import { layoutFigure, type Layout } from '@/render/layout/figure'
import type { RenderedFigure } from '@/render/figure'
import { indexMarks } from '@/render/geometry/pick'
import { contains } from '@/render/scene'
import { measure } from '@/render/text/measure'
import { facesOf } from '@/canvas/fonts'
import { useFigureCanvas } from '@/canvas/figure-canvas'
import { useRings } from '@/canvas/rings'
import { useElementSize } from '@/canvas/element-size'
import { asked } from '@/figure-model/answer-key'
import { useFigure } from '@/stores/figure'
import { useAnswer, useKeys } from '@/stores/queries'
import { useSelection } from '@/stores/selection'
import UiAction from '@/ui/UiAction.vue'

const WAYS: { value: ResidualsAgainst; label: string }[] = [
  { value: 'fitted', label: 'against fitted values' },
  { value: 'x', label: 'against x' },
  { value: 'order', label: 'against the order of rows' },
  { value: 'quantile', label: 'against normal quantiles' },
]
const NEAR = 6
const HEIGHT = 220
const LEAST_WIDTH = 200

const props = defineProps<{ trend: number }>()
const emit = defineEmits<{ close: [] }>()

const figure = useFigure()
const selection = useSelection()
const canvas = useTemplateRef('canvas')
const host = useTemplateRef('host')
const against = ref<ResidualsAgainst>('fitted')
const layout = shallowRef<Layout | null>(null)
/** Of the document and the answer that are drawn, so that both show the same rows. */
const keyOf = useKeys()
const { data, problem } = useAnswer(
  () => {
    const { document } = figure.drawn ?? {}
    return document
      ? keyOf('residuals', document.table, asked(document), props.trend, against.value)
      : null
  },
  (signal) =>
    askResiduals(
      { document: figure.drawn!.document, trend: props.trend, against: against.value },
      signal,
    ),
)
const drawn = shallowRef<RenderedFigure | null>(null)
watch(
  [data, problem],
  ([found, wrong]) => {
    // What was drawn stays until the next is there; nothing stands beside a sentence.
    if (found) drawn.value = markRaw(found)
    else if (wrong) drawn.value = null
  },
  { immediate: true },
)

const room = useElementSize(host)
const page = computed(() => ({ width: Math.max(LEAST_WIDTH, room.value.width), height: HEIGHT }))
const shown = computed((): RenderedFigure | null => {
  if (!drawn.value) return null
  const { document } = drawn.value
  return {
    ...drawn.value,
    document: {
      ...document,
      page: { ...document.page, ...page.value },
      marks: { ...document.marks, size: 4.5 },
      legend: { ...document.legend, place: 'none' },
    },
  }
})

const { redraw, place, beside } = useFigureCanvas({
  host,
  canvas,
  page,
  room,
  faces: () => facesOf(drawn.value?.document),
  scene: () => {
    layout.value = shown.value && layoutFigure(shown.value, measure)
    return layout.value?.scene ?? null
  },
})
watch(shown, redraw)

const rings = useRings(() => drawn.value, layout)

function click(event: MouseEvent): void {
  const made = layout.value
  if (!made || !drawn.value) return
  const at = place(event)
  if (!contains(made.plot, ...at)) return
  const index =
    beside.index(made.marks, made.radius) ??
    indexMarks(made.marks.x, made.marks.y, made.marks.clip, made.radius)
  const mark = index.nearest(...at, NEAR)
  if (mark < 0) return
  const row = drawn.value.marks.row[made.source[mark]]
  selection.select(
    shown.value!.document.table,
    [row],
    event.shiftKey ? 'add' : event.altKey ? 'take' : 'instead',
  )
}
</script>

<template>
  <section class="residuals" aria-label="Residuals" data-testid="residuals">
    <header class="beside head">
      <strong>Residuals</strong>
      <span role="group" aria-label="Residuals drawn" class="ui-choice ui-fill">
        <UiAction
          v-for="way in WAYS"
          :key="way.value"
          :pressed="against === way.value"
          @click="against = way.value"
        >
          {{ way.label }}
        </UiAction>
      </span>
      <UiAction kind="words" @click="emit('close')">Close</UiAction>
    </header>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <div v-show="!problem" ref="host" class="left" :style="{ height: `${HEIGHT}px` }">
      <canvas
        ref="canvas"
        class="picture"
        role="img"
        :aria-label="`Residuals ${WAYS.find(({ value }) => value === against)?.label}`"
        @click="click"
      ></canvas>
      <svg class="over" :viewBox="`0 0 ${page.width} ${page.height}`" aria-hidden="true">
        <path v-if="rings" class="rings" :d="rings" />
      </svg>
    </div>
  </section>
</template>

<style scoped>
.residuals {
  background: var(--paper);
  border-radius: var(--radius);
  box-shadow: 0 1px 2px var(--shadow);
  margin-top: 8px;
  color: var(--paper-ink);
}

.head {
  padding: 8px 8px 0;
}

.left {
  position: relative;
}

.picture {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
</style>
