<script setup lang="ts">
/** The figure on its page: drawn on a canvas, explored by pointer and keyboard. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { canvasMeasure } from '@/drawing/text'
import { FONT } from '@/drawing/text'
import { homeView, layoutFigure, type Layout, type View } from '@/drawing/layout'
import { paintScene } from '@/drawing/paint-canvas'
import { indexMarks, type MarkIndex } from '@/drawing/pick'
import { contains, type Part } from '@/drawing/scene'
import { sentenceOf } from '@/statement/sentence'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { moveView, zoomView } from './view'
import Hover from './Hover.vue'
import { hoverAt, nextMark, type Hovered } from './hovering'

const STEP = 0.05
const ZOOM = 1.25
/** For the line below the figure, in pixels. */
const ROOM_BELOW = 42

const tool = defineModel<'point' | 'move'>('tool', { required: true })

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const host = useTemplateRef('host')
const canvas = useTemplateRef('canvas')
const room = ref({ width: 0, height: 0 })
const view = shallowRef<View | null>(null)
const layout = shallowRef<Layout | null>(null)
const hovered = shallowRef<Hovered | null>(null)
const ready = ref(false)
const measure = canvasMeasure()

const isHome = computed(() => view.value === null)
const page = computed(() => figure.drawn?.document.page ?? { width: 720, height: 610 })
/** CSS pixels per point. */
const scale = computed(() =>
  Math.max(
    0.1,
    Math.min(
      room.value.width / page.value.width,
      (room.value.height - ROOM_BELOW) / page.value.height,
    ),
  ),
)
const size = computed(() => ({
  width: Math.floor(page.value.width * scale.value),
  height: Math.floor(page.value.height * scale.value),
}))
const spoken = computed(() =>
  figure.document ? sentenceOf(figure.document, studies.variableOf) : '',
)

let index: MarkIndex | null = null
let frame = 0

function redraw(): void {
  cancelAnimationFrame(frame)
  frame = requestAnimationFrame(draw)
}

function draw(): void {
  const target = canvas.value
  if (!target || !figure.drawn || !ready.value || !room.value.width) return
  const made = layoutFigure(figure.drawn, measure, view.value ?? homeView(figure.drawn))
  const pixels = window.devicePixelRatio * scale.value
  target.width = Math.round(page.value.width * pixels)
  target.height = Math.round(page.value.height * pixels)
  paintScene(made.scene, target.getContext('2d')!, pixels)
  layout.value = made
  index = null
  target.dataset.drawn = String(Number(target.dataset.drawn ?? 0) + 1)
}

const markIndex = (made: Layout): MarkIndex =>
  (index ??= indexMarks(made.marks.x, made.marks.y, made.marks.clip))

/** Where an event happened on the page, in points. */
function place(event: MouseEvent): [number, number] {
  const box = canvas.value!.getBoundingClientRect()
  return [(event.clientX - box.left) / scale.value, (event.clientY - box.top) / scale.value]
}

function look(event: PointerEvent): void {
  if (drag) return pan(event)
  const made = layout.value
  if (!made || !figure.drawn) return
  const [x, y] = place(event)
  hovered.value = hoverAt(made, markIndex(made), figure.drawn, x, y)
}

let drag: { x: number; y: number; view: View; moved: boolean } | null = null

function press(event: PointerEvent): void {
  if (event.button !== 0 || !figure.drawn || !layout.value) return
  const [x, y] = place(event)
  if (tool.value !== 'move' || !contains(layout.value.plot, x, y)) return
  drag = { x, y, view: view.value ?? homeView(figure.drawn), moved: false }
  canvas.value!.setPointerCapture(event.pointerId)
  hovered.value = null
}

function pan(event: PointerEvent): void {
  const made = layout.value
  if (!drag || !made) return
  const [x, y] = place(event)
  drag.moved ||= Math.hypot(x - drag.x, y - drag.y) > 2
  set(moveView(drag.view, (drag.x - x) / made.plot.width, (y - drag.y) / made.plot.height))
}

function release(): void {
  drag = null
}

function set(next: View | null): void {
  view.value = next
  hovered.value = null
  redraw()
}

function zoomBy(factor: number, x?: number, y?: number): void {
  const made = layout.value
  if (!made || !figure.drawn) return
  const about = {
    x: made.x.fromPage(x ?? made.plot.x + made.plot.width / 2),
    y: made.y.fromPage(y ?? made.plot.y + made.plot.height / 2),
  }
  const next = zoomView(view.value ?? homeView(figure.drawn), about, factor)
  if (next) set(next)
}

function wheel(event: WheelEvent): void {
  const made = layout.value
  if (!made) return
  const [x, y] = place(event)
  if (!contains(made.plot, x, y)) return
  event.preventDefault()
  // A pinch arrives as a wheel with Ctrl and small steps.
  const strength = event.ctrlKey ? 0.01 : event.deltaMode === 1 ? 0.05 : 0.0015
  zoomBy(Math.exp(Math.max(-80, Math.min(80, event.deltaY)) * strength), x, y)
}

function click(event: MouseEvent): void {
  const made = layout.value
  if (!made || !figure.drawn || tool.value === 'move') return
  const [x, y] = place(event)
  const found = hoverAt(made, markIndex(made), figure.drawn, x, y)
  if (found?.kind === 'mark') side.tune(`row-${found.row}`)
  else if (found?.kind === 'trend') side.tune(`trend-${found.trend.trend}`)
  else side.tune(partAt(made, x, y))
}

function partAt(made: Layout, x: number, y: number): Part | null {
  const region = made.scene.regions.find(({ box }) => contains(box, x, y))
  return region?.part ?? null
}

function key(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const arrows: Record<string, [number, number]> = {
    ArrowLeft: [-1, 0],
    ArrowRight: [1, 0],
    ArrowUp: [0, 1],
    ArrowDown: [0, -1],
  }
  const direction = arrows[event.key]
  if (direction) {
    if (event.shiftKey) set(moveView(current(), direction[0] * STEP, direction[1] * STEP))
    else walk(direction)
  } else if (event.key === '+' || event.key === '=') zoomBy(1 / ZOOM)
  else if (event.key === '-') zoomBy(ZOOM)
  else if (event.key === '0') set(null)
  else if (event.key === 'Enter' && hovered.value?.kind === 'mark')
    side.tune(`row-${hovered.value.row}`)
  else return
  event.preventDefault()
}

const current = (): View => view.value ?? homeView(figure.drawn!)

/** From mark to mark with the arrow keys: left and right by x, up and down by y. */
function walk([dx, dy]: [number, number]): void {
  const made = layout.value
  if (!made || !figure.drawn) return
  const from = hovered.value?.kind === 'mark' ? hovered.value.mark : -1
  const mark = nextMark(made, from, dx || dy, dx ? 'x' : 'y')
  if (mark >= 0)
    hovered.value = hoverAt(
      made,
      markIndex(made),
      figure.drawn,
      made.marks.x[mark],
      made.marks.y[mark],
      mark,
    )
}

const observer = new ResizeObserver(([entry]) => {
  const { width, height } = entry.contentRect
  room.value = { width, height }
})

onMounted(async () => {
  observer.observe(host.value!)
  // Measured with the wrong font, everything would stand in the wrong place.
  await Promise.all([400, 600].map((weight) => document.fonts.load(`${weight} 16px '${FONT}'`)))
  ready.value = true
  redraw()
})
onBeforeUnmount(() => {
  observer.disconnect()
  cancelAnimationFrame(frame)
})

watch(() => figure.drawn, redraw)
watch(
  () => [figure.id, figure.document?.x, figure.document?.y[0]],
  () => set(null),
)
watch([room, size], redraw)

defineExpose({
  zoomIn: () => zoomBy(1 / ZOOM),
  zoomOut: () => zoomBy(ZOOM),
  fit: () => set(null),
  isHome,
})
</script>

<template>
  <div ref="host" class="host">
    <div
      class="page"
      :style="{ width: `${size.width}px`, height: `${size.height}px` }"
      :class="{ 'page--waiting': figure.waiting }"
    >
      <canvas
        ref="canvas"
        class="canvas"
        :class="`canvas--${tool}`"
        role="application"
        aria-roledescription="figure"
        :aria-label="spoken"
        aria-describedby="figure-keys"
        tabindex="0"
        @pointermove="look"
        @pointerdown="press"
        @pointerup="release"
        @pointercancel="release"
        @pointerleave="hovered = null"
        @wheel="wheel"
        @click="click"
        @keydown="key"
        @blur="hovered = null"
      />
      <p id="figure-keys" class="out-of-sight">
        Arrow keys walk from mark to mark; Shift and arrow keys move the figure; plus and minus
        zoom; zero fits it to the data; Enter opens the mark.
      </p>
      <Hover
        v-if="hovered && figure.drawn"
        :hovered="hovered"
        :scale="scale"
        :drawn="figure.drawn"
      />
      <div v-if="figure.waiting" class="waiting" role="status">Working it out …</div>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.host {
  flex: 1;
  min-height: 0;
  overflow: hidden;
}

.page {
  position: relative;
  margin: 0 auto;
  background: var(--paper);
  border-radius: 6px;
  box-shadow: var(--shadow);
}

.canvas {
  display: block;
  width: 100%;
  height: 100%;
  border-radius: 6px;
  touch-action: none;
}

.canvas--move {
  cursor: grab;
}

.canvas--move:active {
  cursor: grabbing;
}

.waiting {
  position: absolute;
  top: 12px;
  right: 12px;
  padding: 4px 10px;
  border-radius: 6px;
  background: #eef1ec;
  color: #1d2b2a;
  font-size: 14px;
}
</style>
