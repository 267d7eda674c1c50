<script setup lang="ts">
/** A plate on its page: figures side by side, the edges between them to be dragged. */
import { computed, shallowRef, useTemplateRef, watch } from 'vue'
import { columnsOf, layoutPlate, letterOf, rowsOf, type PlateLayout } from '@/plates/layout'
import { contains } from '@/render/scene'
import { measure } from '@/render/text/measure'
import { asPlain } from '@/render/text/text'
import { facesOf } from '@/canvas/fonts'
import { useGesture } from '@/canvas/gesture'
import { useFigureCanvas } from '@/canvas/figure-canvas'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { pressed } from '@/figure-model/keys'
import { countOf } from '@/figure-model/words'

/** A press of an arrow key moves an edge by this share of the page. */
const STEP = 0.02
/** No column or row becomes narrower than this share of them all. */
const LEAST = 0.08

const plate = usePlate()
const side = useSide()
const host = useTemplateRef('host')
const canvas = useTemplateRef('canvas')
const layout = shallowRef<PlateLayout | null>(null)

const page = computed(() => plate.document?.page ?? { width: 960, height: 560 })
const { scale, size, redraw, place } = useFigureCanvas({
  host,
  canvas,
  page,
  faces: () => [...new Set(plate.panels.flatMap(({ figure }) => facesOf(figure?.document)))],
  scene: () => {
    if (!plate.document || plate.panels.length !== plate.document.cells.length) return null
    layout.value = layoutPlate(plate.document, plate.panels, measure)
    return layout.value.scene
  },
})
watch(() => [plate.document, plate.panels], redraw)

const spoken = computed(() => {
  const headings = plate.panels.map(({ heading }, i) =>
    [letterOf(i, plate.document!.letters), asPlain(heading)].filter(Boolean).join(': '),
  )
  return `Plate of ${countOf(plate.panels.length, 'figure')}. ${headings.filter(Boolean).join('; ')}`
})

function click(event: MouseEvent): void {
  const [x, y] = place(event)
  const found = layout.value?.cells.findIndex((box) => contains(box, x, y)) ?? -1
  plate.chosen = found < 0 ? null : found
  side.rest()
}

function key(event: KeyboardEvent): void {
  const count = plate.document?.cells.length ?? 0
  const meant = pressed('plate', event)
  if (!meant) return
  const below = columnsOf(plate.document!)
  const by = { right: 1, down: below, left: -1, up: -below }[meant]
  event.preventDefault()
  const next = plate.chosen === null ? 0 : plate.chosen + by
  if (next >= 0 && next < count) plate.chosen = next
}

type Direction = 'widths' | 'heights'

/** Moves the edge after a column or row: what one gains the next one loses. */
function move(direction: Direction, edge: number, by: number): void {
  plate.edit((draft) => {
    const count = direction === 'widths' ? columnsOf(draft) : rowsOf(draft)
    const held = draft[direction].length === count ? draft[direction] : Array<number>(count).fill(1)
    const sum = held.reduce((a, b) => a + b, 0)
    const least = LEAST * sum
    const gain = Math.max(least - held[edge], Math.min(by * sum, held[edge + 1] - least))
    draft[direction] = held.map((size, i) =>
      Number((i === edge ? size + gain : i === edge + 1 ? size - gain : size).toFixed(4)),
    )
  }, `edge ${direction} ${edge}`)
}

const gesture = useGesture(place)

function press(direction: Direction, edge: number, event: PointerEvent): void {
  const id = plate.id!
  const before = plate.document!
  let own = before
  let at = along(direction, event)
  gesture.press(event, () => ({
    drag(_x, _y, moved) {
      if (plate.document !== own) return gesture.abandon()
      const to = along(direction, moved)
      move(direction, edge, to - at)
      at = to
      own = plate.document
    },
    cancel() {
      if (plate.document === own && own !== before) plate.takeBack(id, before)
    },
  }))
}

const along = (direction: Direction, event: PointerEvent): number => {
  const [x, y] = place(event)
  return direction === 'widths' ? x / page.value.width : y / page.value.height
}

function nudge(direction: Direction, edge: number, event: KeyboardEvent): void {
  const [less, more] =
    direction === 'widths' ? ['ArrowLeft', 'ArrowRight'] : ['ArrowUp', 'ArrowDown']
  if (event.key !== less && event.key !== more) return
  event.preventDefault()
  event.stopPropagation()
  move(direction, edge, event.key === less ? -STEP : STEP)
}

const edges = computed(() => {
  const made = layout.value
  if (!made) return []
  const width = (made.columns.length && 100 / (made.columns.length + 1)) || 0
  return [
    ...made.columns.map((x, edge) => ({
      direction: 'widths' as const,
      edge,
      name: `Edge between columns ${edge + 1} and ${edge + 2}`,
      style: { left: `${x * scale.value - 5}px`, top: '0', width: '10px', height: '100%' },
      now: Math.round(width * (edge + 1)),
    })),
    ...made.rows.map((y, edge) => ({
      direction: 'heights' as const,
      edge,
      name: `Edge between rows ${edge + 1} and ${edge + 2}`,
      style: { top: `${y * scale.value - 5}px`, left: '0', height: '10px', width: '100%' },
      now: Math.round((y / page.value.height) * 100),
    })),
  ]
})
const ring = computed(() => {
  const box = plate.chosen === null ? null : layout.value?.cells[plate.chosen]
  return (
    box && {
      left: `${box.x * scale.value}px`,
      top: `${box.y * scale.value}px`,
      width: `${box.width * scale.value}px`,
      height: `${box.height * scale.value}px`,
    }
  )
})
</script>

<template>
  <div ref="host" class="host">
    <div class="page" :style="{ width: `${size.width}px`, height: `${size.height}px` }">
      <canvas
        ref="canvas"
        class="canvas"
        role="application"
        aria-roledescription="plate"
        :aria-label="spoken"
        aria-describedby="plate-keys"
        tabindex="0"
        @click="click"
        @keydown="key"
      />
      <p id="plate-keys" class="out-of-sight">Arrow keys walk from figure to figure.</p>
      <div v-if="ring" class="ring" :style="ring"></div>
      <div
        v-for="{ direction, edge, name, style, now } in edges"
        :key="name"
        class="edge"
        :class="`edge--${direction}`"
        role="separator"
        tabindex="0"
        :aria-label="name"
        :aria-orientation="direction === 'widths' ? 'vertical' : 'horizontal'"
        :aria-valuenow="now"
        :style="style"
        @pointerdown="press(direction, edge, $event)"
        @pointermove="gesture.follow"
        @pointerup="gesture.release"
        @pointercancel="gesture.lose"
        @keydown="nudge(direction, edge, $event)"
      ></div>
    </div>
  </div>
</template>

<style scoped>
.ring {
  position: absolute;
  pointer-events: none;
  border: 1.5px solid var(--accent);
  border-radius: var(--radius);
}

.edge {
  position: absolute;
  touch-action: none;
}

.edge--widths {
  cursor: col-resize;
}

.edge--heights {
  cursor: row-resize;
}

.edge:hover,
.edge:focus-visible {
  background: color-mix(in srgb, var(--accent) 22%, transparent);
}
</style>
