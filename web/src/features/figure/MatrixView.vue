<script setup lang="ts">
/** A scatterplot matrix on the page: linked cells, each of which opens as a scatterplot. */
import { computed, onBeforeUnmount, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { FigureDocument } from '@/api/types'
import { layoutMatrix, type MatrixLayout, type PlacedCell } from '@/render/layout/matrix'
import { indexMarks } from '@/render/geometry/pick'
import { contains, type Box } from '@/render/scene'
import { measure } from '@/render/text/measure'
import { sentenceOf } from '@/kinds'
import { summaryOf } from '@/kinds/summary'
import { distributionOf } from '@/kinds/distribution'
import { pressed } from '@/figure-model/keys'
import { useFigure } from '@/stores/figure'
import { flagged } from '@/lib/flags'
import { brushing, type Squares } from './brushing'
import { useSelection } from '@/stores/selection'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { boxOutline, type Tool } from './dragging'
import { useGesture, type Gesture } from '@/canvas/gesture'
import { facesOf } from '@/canvas/fonts'
import { pairText } from '@/kinds/matrix/pair'
import { useFigureCanvas } from '@/canvas/figure-canvas'
import { useElementSize, useFittedFigure } from '@/canvas/element-size'
import { useShape } from '@/ui/composables/shape'
import UiAction from '@/ui/UiAction.vue'
import Waiting from './Waiting.vue'

const NEAR = 4

const tool = defineModel<Tool>('tool', { required: true })

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const selection = useSelection()
const selectedRows = computed(() => selection.rowsIn(figure.drawn?.document.table))
const { shape } = useShape()
const host = useTemplateRef('host')
const canvas = useTemplateRef('canvas')
const over = useTemplateRef('over')
const layout = shallowRef<MatrixLayout | null>(null)
/** The cell under the pointer, or reached by the arrow keys. */
const at = shallowRef<PlacedCell | null>(null)
const hoveredRow = ref<number | null>(null)
const outline = shallowRef<number[]>([])
/** The variable whose name is dragged along the diagonal, and where it would come to stand. */
const carried = ref<{ from: number; to: number } | null>(null)

const room = useElementSize(host)
const seen = useFittedFigure(
  () => figure.drawn,
  room,
  () => side.shown.kind === 'export',
)
const page = computed(() => seen.value?.document.page ?? { width: 720, height: 610 })
const spoken = computed(() => {
  const shown = figure.drawn?.document ?? figure.document
  return shown ? sentenceOf(shown, studies.variableOf) : ''
})
const variables = computed(() => figure.drawn?.answer.matrix?.variables ?? [])

/** What the cell under the pointer is: its pair, r and n. */
const said = computed(() => {
  const cell = at.value?.cell
  if (!cell || !variables.value[cell.x] || !variables.value[cell.y]) return ''
  const row = hoveredRow.value === null ? '' : ` · row ${hoveredRow.value + 1}`
  return pairText(cell, variables.value) + row
})

const isSame = (one: PlacedCell['cell'], other?: PlacedCell['cell']): boolean =>
  one.x === other?.x && one.y === other.y

const { scale, size, redraw, place } = useFigureCanvas({
  host,
  canvas,
  page,
  room,
  faces: () => facesOf(figure.drawn?.document),
  scene: () => {
    if (!seen.value?.answer.matrix) return null
    layout.value = layoutMatrix(seen.value, measure)
    at.value = layout.value.cells.find(({ cell }) => isSame(cell, at.value?.cell)) ?? null
    return layout.value.scene
  },
  painted: () => brush(),
})

/** For so long cells are brushed before the page is let breathe, in milliseconds. */
const BREATH = 8
let breathing = 0

/**
 * Draws the selected rows in every cell, as small squares written straight into an image: a few
 * cells at a time, so that very many rows hold nothing up.
 */
function brush(): void {
  cancelAnimationFrame(breathing)
  const target = over.value
  const made = layout.value
  if (!target || !made || !figure.drawn) return
  const { row } = figure.drawn.marks
  const pixels = window.devicePixelRatio * scale.value
  const width = Math.round(page.value.width * pixels)
  const height = Math.round(page.value.height * pixels)
  target.width = width
  target.height = height
  delete target.dataset.brushed
  if (!selectedRows.value.size) return
  const context = target.getContext('2d')!
  const cells = made.cells.flatMap(({ marks }) => marks ?? [])
  const begun = (): { image: ImageData; chosen: Uint32Array; squares: Squares } => {
    const flags = flagged(row, selectedRows.value)
    const places = new Uint32Array(row.length)
    let count = 0
    for (let drawn = 0; drawn < row.length; drawn++)
      if (flags[made.source(drawn)]) places[count++] = drawn
    const image = context.createImageData(width, height)
    return {
      image,
      chosen: places.subarray(0, count),
      squares: brushing(new Uint32Array(image.data.buffer), width, height, pixels),
    }
  }
  let work: ReturnType<typeof begun> | null = null
  const some = (): void => {
    const until = performance.now() + BREATH
    work ??= begun()
    const { image, chosen, squares } = work
    while (cells.length && performance.now() < until) squares(cells.shift()!, chosen)
    context.putImageData(image, 0, 0)
    if (cells.length) breathing = requestAnimationFrame(some)
    else target.dataset.brushed = ''
  }
  breathing = requestAnimationFrame(some)
}

watch(selectedRows, brush)
onBeforeUnmount(() => cancelAnimationFrame(breathing))
watch(seen, redraw)

const cellAt = (x: number, y: number): PlacedCell | null =>
  layout.value?.cells.find(({ box }) => contains(box, x, y)) ?? null

const nameAt = (x: number, y: number): number =>
  layout.value?.diagonal.findIndex((box) => contains(box, x, y)) ?? -1

function rowAt(cell: PlacedCell | null, x: number, y: number): number | null {
  if (!cell?.marks || !figure.drawn) return null
  const { marks } = cell
  const mark = indexMarks(marks.x, marks.y, marks.clip, layout.value!.radius).nearest(x, y, NEAR)
  return mark < 0 ? null : figure.drawn.marks.row[layout.value!.source(mark)]
}

const gesture = useGesture(place)

function press(event: PointerEvent): void {
  const [x, y] = place(event)
  // A finger does not hover: what it touches is said, and can be opened.
  if (event.pointerType === 'touch') at.value = cellAt(x, y)
  gesture.press(event, gestureAt)
}

/** What a press begins: a variable moved along the diagonal, marks outlined, or a click. */
function gestureAt(fromX: number, fromY: number): Gesture {
  const cell = cellAt(fromX, fromY)
  const name = nameAt(fromX, fromY)
  return {
    drag(x, y) {
      const to = nameAt(x, y)
      if (name >= 0 && to >= 0) carried.value = { from: name, to }
      else if (name < 0 && cell?.marks && tool.value !== 'move')
        outline.value =
          tool.value === 'rope'
            ? [...(outline.value.length ? outline.value : [fromX, fromY]), x, y]
            : boxOutline(fromX, fromY, x, y)
    },
    drop(_x, _y, event) {
      const moved = carried.value
      if (moved && moved.from !== moved.to) move(moved.from, moved.to)
      else if (!moved && cell) selectInside(cell, howOf(event))
      clear()
    },
    click: (x, y, event) => pick(cell, x, y, howOf(event)),
    cancel: clear,
  }
}

const howOf = (event: PointerEvent) =>
  event.shiftKey ? 'add' : event.altKey ? 'take' : ('instead' as const)

function clear(): void {
  carried.value = null
  outline.value = []
}

function look(event: PointerEvent): void {
  if (gesture.follow(event)) return
  const [x, y] = place(event)
  at.value = cellAt(x, y)
  hoveredRow.value = null
  // A million marks are not searched at every move.
  if (at.value && (figure.drawn?.marks.row.length ?? 0) <= 20_000)
    hoveredRow.value = rowAt(at.value, x, y)
}

function selectInside({ marks }: PlacedCell, how: ReturnType<typeof howOf>): void {
  if (outline.value.length < 6 || !marks || !figure.drawn) return
  const inside = indexMarks(marks.x, marks.y, marks.clip).inside(outline.value)
  // Looked up once: of tens of thousands of marks it would be felt.
  const { source } = layout.value!
  const { row } = figure.drawn.marks
  const { table } = figure.drawn.document
  const rows = inside.map((mark) => row[source(mark)])
  // What opens beside the figure is a task of its own.
  requestAnimationFrame(() => selection.select(table, rows, how))
}

function pick(cell: PlacedCell | null, x: number, y: number, how: ReturnType<typeof howOf>): void {
  const row = rowAt(cell, x, y)
  if (row !== null) selection.select(figure.drawn!.document.table, [row], how)
  else if (cell) side.tune('matrix')
  else {
    const region = layout.value?.scene.regions.find(({ box }) => contains(box, x, y))
    side.tune(region?.part ?? (nameAt(x, y) >= 0 ? 'matrix' : null))
  }
}

/** Moves a variable to another place; the order is the reader's own from then on. */
function move(from: number, to: number): void {
  const names = variables.value.map(({ name }) => name)
  names.splice(to, 0, ...names.splice(from, 1))
  figure.edit((draft) => {
    draft.matrix!.variables = names
    draft.matrix!.order = 'own'
  })
}

/** Opens a pair as a scatterplot with everything kept; the matrix stays in the document. */
function open(cell: PlacedCell['cell']): void {
  // A strip has no scatterplot of its own.
  if (cell.strip) return
  const [x, y] = [variables.value[cell.x].name, variables.value[cell.y].name]
  figure.edit((draft: FigureDocument) => {
    const matrix = draft.matrix!
    const region = cell.y > cell.x ? matrix.below : matrix.above
    draft.kind = 'scatterplot'
    draft.x = x
    draft.y = [y]
    const by = figure.drawn?.answer.colour?.scale === 'category' ? draft.colour!.variable : null
    draft.trends = region === 'trend' ? [{ ...matrix.trend, by }] : []
  })
}

/** A variable on the diagonal is shown by itself. */
function doubleClick(event: MouseEvent): void {
  const found = nameAt(...place(event))
  if (found >= 0)
    figure.edit((draft) =>
      distributionOf(draft, variables.value[found].name, null, figure.needsRows),
    )
}

const STEPS: Record<string, [number, number] | undefined> = {
  left: [-1, 0],
  right: [1, 0],
  up: [0, -1],
  down: [0, 1],
}

function key(event: KeyboardEvent): void {
  const meant = pressed('matrix', event)
  if (!meant) return
  const step = STEPS[meant]
  const cells = layout.value?.cells ?? []
  if (step && cells.length) {
    const from = at.value?.cell ?? { x: 0, y: 0 }
    const count = variables.value.length
    let [x, y] = [from.x + step[0], from.y + step[1]]
    if (x === y) [x, y] = [x + step[0], y + step[1]]
    if (x >= 0 && y >= 0 && x < count && y < count)
      at.value = cells.find(({ cell }) => cell.x === x && cell.y === y) ?? at.value
  } else if (meant === 'open' && at.value) open(at.value.cell)
  else return
  event.preventDefault()
}

const corner = computed(() => {
  const box = at.value?.box
  return (
    box && {
      left: `${(box.x + box.width) * scale.value - 26}px`,
      top: `${box.y * scale.value + 2}px`,
    }
  )
})
const ring = (box: Box) => ({
  left: `${box.x * scale.value}px`,
  top: `${box.y * scale.value}px`,
  width: `${box.width * scale.value}px`,
  height: `${box.height * scale.value}px`,
})
/** Above its cell; below it in the first row. */
const beside = computed(() => {
  const box = at.value?.box
  if (!box) return {}
  const onRight = box.x > page.value.width / 2
  return {
    ...(onRight
      ? { right: `${(page.value.width - box.x - box.width) * scale.value}px` }
      : { left: `${box.x * scale.value}px` }),
    top: `${box.y > 70 ? box.y * scale.value - 28 : (box.y + box.height) * scale.value + 4}px`,
  }
})
const outlinePath = computed(() =>
  outline.value.length ? `M${outline.value.join(' ')}Z`.replace(/(\S+ \S+) /g, '$1L') : '',
)
</script>

<template>
  <div class="host-column">
    <div ref="host" class="host">
      <div
        class="page"
        :style="{ width: `${size.width}px`, height: `${size.height}px` }"
        @pointerleave="(event) => event.pointerType !== 'touch' && (at = null)"
      >
        <canvas
          ref="canvas"
          class="canvas"
          :class="{ 'canvas--scrolls': shape === 'column' && tool === 'point' }"
          role="application"
          aria-roledescription="figure"
          :aria-label="spoken"
          aria-describedby="matrix-summary matrix-keys"
          tabindex="0"
          @pointermove="look"
          @pointerdown="press"
          @pointerup="gesture.release"
          @pointercancel="gesture.lose"
          @dblclick="doubleClick"
          @keydown="key"
        />
        <canvas ref="over" class="over" aria-hidden="true"></canvas>
        <p id="matrix-summary" class="out-of-sight">
          {{ figure.drawn?.answer.matrix ? summaryOf(figure.drawn) : '' }}
        </p>
        <p id="matrix-keys" class="out-of-sight">
          Arrow keys walk from pair to pair; Enter opens the pair as a scatterplot, whose statement
          has the way back.
        </p>
        <svg class="over" :viewBox="`0 0 ${page.width} ${page.height}`" aria-hidden="true">
          <path v-if="outlinePath" :d="outlinePath" />
        </svg>
        <div v-if="at" class="cell" :style="ring(at.box)"></div>
        <div
          v-if="carried && layout"
          class="cell cell--carried"
          :style="ring(layout.diagonal[carried.to])"
        ></div>
        <UiAction
          v-if="at && corner && !at.cell.strip"
          class="open"
          :style="corner"
          :label="`Open ${said} as a scatterplot`"
          tip="Open as a scatterplot (Enter)"
          @click="open(at.cell)"
        >
          ↗
        </UiAction>
        <div v-if="said && at" class="said" role="status" :style="beside">{{ said }}</div>
        <Waiting v-if="figure.waiting" :done="figure.done" @stop="figure.stop" />
      </div>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.cell {
  position: absolute;
  border: 1.5px solid var(--paper-accent);
  pointer-events: none;
}

.cell--carried {
  border: 2px dashed var(--paper-focus);
}

.open.ui-action {
  position: absolute;
  width: 24px;
  height: 24px;
  min-height: 24px;
  padding: 0;
  background: var(--paper-words);
  color: var(--paper-accent);
  border-color: var(--paper-line);
}
</style>
