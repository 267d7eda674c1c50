<script setup lang="ts">
/** The figure on its page: drawn on a canvas, explored by pointer and keyboard. */
import { computed, shallowRef, useTemplateRef, watch } from 'vue'
import type { SeenEnds } from '@/api/client'
import type { Layout } from '@/render/layout/figure'
import { contains, type Box, type Part } from '@/render/scene'
import { pressed } from '@/figure-model/keys'
import { rowOf } from '@/stores/rows'
import { sentenceOf } from '@/kinds'
import { summaryOf } from '@/kinds/summary'
import { useFigure } from '@/stores/figure'
import { useSelection } from '@/stores/selection'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { boxOutline, dragAt, type Drag, type Tool } from './dragging'
import { useGesture, type Gesture } from '@/canvas/gesture'
import { newNote, wordsOf, type EditedWords } from './editing'
import { usePanZoomHover, type Pan } from './pan-zoom-hover'
import Candidates from './Candidates.vue'
import Hover from './Hover.vue'
import { hoverAt } from './hovering'
import { useRings } from '@/canvas/rings'
import { keepReading, readingAt, readPlace, type Reading, type ReadPlace } from './reading'
import { useShape } from '@/ui/composables/shape'
import { useSayingView } from './view-announcements'
import Waiting from './Waiting.vue'
import WordEditor from './WordEditor.vue'

const tool = defineModel<Tool>('tool', { required: true })

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const selection = useSelection()
const host = useTemplateRef('host')
const canvas = useTemplateRef('canvas')
const editing = shallowRef<EditedWords | null>(null)
const spoken = computed(() => {
  const shown = figure.drawn?.document ?? figure.document
  return shown ? sentenceOf(shown, studies.variableOf) : ''
})

const { shape } = useShape()
/** What is exported is all of the figure, however closely it was looked at. */
const isHandedOn = (): boolean => side.shown.kind === 'export'

const {
  seen,
  page,
  scale,
  size,
  place,
  layout,
  hovered,
  only,
  isHome,
  markIndex,
  current,
  goHome,
  reset,
  zoomIn,
  zoomOut,
  wheel,
  pan,
  letGo,
  touch,
  byFinger,
  hasAsked,
  leave,
  hover,
  lookByKey,
} = usePanZoomHover({
  host,
  canvas,
  figure: () => figure.drawn,
  asPage: isHandedOn,
  keep: (change) => figure.edit(change, 'turn'),
  pageScrolls: () => shape.value === 'column',
  looked: (view) => figure.lookAt(isHandedOn() ? null : (view as SeenEnds | null)),
})

watch(isHandedOn, (now) =>
  figure.lookAt(now || isHome.value ? null : (current() as SeenEnds | null)),
)

function look(event: PointerEvent): void {
  if (byFinger(event)) return
  if (!gesture.follow(event)) {
    hover(event)
    if (event.pointerType !== 'touch') reach(...place(event))
  }
}

/** What would be tuned by a click where the pointer is; outlined, so that it is seen to be a part. */
const reached = shallowRef<Box | null>(null)

function reach(x: number, y: number): void {
  const made = layout.value
  const region =
    made && tool.value === 'point' && !hovered.value
      ? made.scene.regions.find(({ part, box }) => part !== 'ground' && contains(box, x, y))
      : undefined
  reached.value =
    region && !contains(region.box, made!.plot.x + 1, made!.plot.y + 1) ? region.box : null
}

const gesture = useGesture(place)
/** What is being read off, while it is dragged along its line. */
const read = shallowRef<ReadPlace | null>(null)
/** The outline that is being drawn, in points, x and y in turn. */
const outline = shallowRef<number[]>([])

function press(event: PointerEvent): void {
  // A second finger ends what the first began.
  if (touch(event, true)) {
    gesture.cancel()
    return
  }
  if (gesture.press(event, gestureAt(event))) hovered.value = null
}

/** What a press begins: the view moved, a part dragged, a number read off, or marks outlined. */
const gestureAt =
  (event: PointerEvent) =>
  (x: number, y: number): Gesture | null => {
    const made = layout.value
    if (!figure.drawn || !made) return null
    const hand = tool.value !== 'move'
    const found = hand ? dragAt(made, seen.value!.document, x, y, !isHome.value) : null
    // A finger that scrolls or pinches across an axis does not mean its ends.
    const isMeant = event.pointerType !== 'touch' || !found?.axis || isTuned(`${found.axis}-axis`)
    const overMark = markIndex(made).nearest(x, y, 2) >= 0
    const reading =
      hand && tool.value === 'point' && !overMark
        ? readingAt(made, seen.value!.document, x, y)
        : null
    if (reading) return readingGesture(reading)
    if (found && isMeant) return partGesture(found)
    if (!contains(made.plot, x, y)) return null
    if (tool.value === 'move' || (made.isTurned && tool.value === 'point'))
      return viewGesture({ view: current(), x, y })
    return tool.value === 'box' || tool.value === 'rope' ? outlineGesture(x, y) : null
  }

const viewGesture = (from: Pan): Gesture => ({
  drag: (x, y) => pan(from, x, y),
  drop: letGo,
  cancel: () => {
    pan(from, from.x, from.y)
    letGo()
  },
})

/** A drag changes the figure under it, for as long as nothing else does. */
function partGesture(drag: Drag): Gesture {
  const id = figure.id!
  const before = figure.document!
  let own = before
  return {
    drag(x, y) {
      if (figure.document !== own) return gesture.abandon()
      figure.editFigure(id, (draft) => drag.edit(draft, x, y), drag.what)
      own = figure.document
    },
    cancel() {
      if (figure.document === own && own !== before) figure.takeBack(id, before)
    },
  }
}

const readingGesture = (reading: Reading): Gesture => ({
  drag: (x, y) => (read.value = readPlace(reading, layout.value!, seen.value!, x, y)),
  drop() {
    const found = read.value
    read.value = null
    if (found) figure.edit((draft) => keepReading(draft, reading, found.value))
  },
  cancel: () => (read.value = null),
})

const outlineGesture = (fromX: number, fromY: number): Gesture => ({
  drag(x, y) {
    outline.value =
      tool.value === 'box'
        ? boxOutline(fromX, fromY, x, y)
        : [...(outline.value.length ? outline.value : [fromX, fromY]), x, y]
  },
  drop(_x, _y, event) {
    selectInside(event)
    outline.value = []
  },
  cancel: () => (outline.value = []),
})

/** On a phone a finger that does not mean the figure moves the page. */
const scrolls = computed(
  () => shape.value === 'column' && tool.value === 'point' && !layout.value?.isTurned,
)
const isTuned = (part: Part): boolean => side.shown.kind === 'tuning' && side.shown.part === part

function left(event: PointerEvent): void {
  leave(event)
  reached.value = null
}

function lift(event: PointerEvent): void {
  touch(event, false)
  gesture.release(event)
}

function lose(event: PointerEvent): void {
  touch(event, false)
  gesture.lose(event)
}

function selectInside(event: PointerEvent): void {
  const made = layout.value
  if (!made || !figure.drawn || outline.value.length < 6) return
  const { marks } = figure.drawn
  const inside = markIndex(made).inside(outline.value)
  const rows = inside.map((drawn) => marks.row[made.source[drawn]])
  const { table } = figure.drawn.document
  const how = event.shiftKey ? 'add' : event.altKey ? 'take' : 'instead'
  // What opens beside the figure is a task of its own.
  requestAnimationFrame(() => selection.select(table, rows, how))
}

function click(event: MouseEvent): void {
  const made = layout.value
  if (!made || !figure.drawn || tool.value === 'move' || gesture.wasDragged() || hasAsked()) return
  const [x, y] = place(event)
  const found = hoverAt(made, markIndex(made), seen.value!, x, y)
  if (found?.kind === 'mark' && event.shiftKey)
    selection.select(seen.value!.document.table, [found.row], 'add')
  else if (found?.kind === 'mark' && event.altKey)
    selection.select(seen.value!.document.table, [found.row], 'take')
  else if (found?.kind === 'mark') side.tune(`row-${found.row}`)
  else if (found?.kind === 'trend') side.tune(`trend-${found.trend.trend}`)
  else {
    const entry = made.entries.find(({ box }) => contains(box, x, y))
    if (entry) only.value = only.value === entry.code ? null : entry.code
    side.tune(partAt(made, x, y))
  }
}

/** Words are edited where they stand: by a double click, or by F2 on what is tuned. */
function beginEditing(part: Part | null, at: [number, number] | null): void {
  if (part && layout.value && seen.value)
    editing.value = wordsOf(part, seen.value, layout.value, at)
}

function doubleClick(event: MouseEvent): void {
  const made = layout.value
  if (!made) return
  const at = place(event)
  only.value = null
  // Where nothing stands above the plot, a title will.
  beginEditing(partAt(made, ...at) ?? (at[1] < made.plot.y ? 'title' : null), at)
}

function edited(text: string | null): void {
  const words = editing.value
  editing.value = null
  if (words && text !== null && text !== words.text) {
    figure.edit((draft) => words.edit(draft, text))
    if (words.tunes && text.trim()) side.tune(words.tunes)
  }
  canvas.value?.focus()
}

function partAt(made: Layout, x: number, y: number): Part | null {
  const region = made.scene.regions.find(({ box }) => contains(box, x, y))
  return region?.part ?? null
}

function key(event: KeyboardEvent): void {
  if (lookByKey(event)) {
    event.preventDefault()
    return
  }
  const meant = pressed(layout.value?.isTurned ? 'box' : 'figure', event)
  if (meant === 'words')
    beginEditing(side.shown.kind === 'tuning' ? side.shown.part : 'title', null)
  else if (meant === 'select' && hovered.value?.kind === 'mark') {
    const { row } = hovered.value
    const { table } = seen.value!.document
    selection.select(table, [row], selection.rowsIn(table).has(row) ? 'take' : 'add')
  } else if (meant === 'row' && hovered.value?.kind === 'mark')
    side.tune(`row-${hovered.value.row}`)
  else return
  event.preventDefault()
}

watch(
  () => JSON.stringify([figure.id, figure.document?.kind, figure.document?.x, figure.document?.y]),
  reset,
)

useSayingView(() => figure.drawn, layout, isHome)

const rings = useRings(() => figure.drawn, layout)
const outlinePath = computed(() =>
  outline.value.length ? `M${outline.value.join(' ')}Z`.replace(/(\S+ \S+) /g, '$1L') : '',
)

watch(
  () => figure.id,
  () => {
    only.value = null
    editing.value = null
  },
)

defineExpose({
  zoomIn,
  zoomOut,
  fit: goHome,
  isHome,
  /** Opens the field of a note that is not there yet. */
  writeNote: () => {
    if (seen.value) editing.value = newNote(seen.value.document)
  },
  /** Marks that an axis has no place for. */
  off: computed(() => layout.value?.off ?? 0),
  /** Marks beyond the ends that were typed for an axis. */
  beyond: computed(() => layout.value?.beyond ?? 0),
  /** Names that found no room. */
  unnamed: computed(() => layout.value?.unnamed ?? 0),
  /** Readings that found no room. */
  unread: computed(() => layout.value?.unread ?? 0),
})
</script>

<template>
  <div class="host-column">
    <div ref="host" class="host">
      <div
        class="page"
        :style="{ width: `${size.width}px`, height: `${size.height}px` }"
        :class="{ 'page--waiting': figure.waiting }"
        :aria-busy="figure.isBusy"
      >
        <canvas
          ref="canvas"
          class="canvas"
          :class="[
            `canvas--${tool}`,
            { 'canvas--hit': hovered || reached, 'canvas--scrolls': scrolls },
          ]"
          role="application"
          aria-roledescription="figure"
          :aria-label="spoken"
          aria-describedby="figure-summary figure-keys"
          tabindex="0"
          @pointermove="look"
          @pointerdown="press"
          @pointerup="lift"
          @pointercancel="lose"
          @pointerleave="left"
          @wheel="wheel"
          @click="click"
          @dblclick="doubleClick"
          @keydown="key"
          @blur="hovered = null"
        />
        <p id="figure-summary" class="out-of-sight">
          {{ figure.drawn ? summaryOf(figure.drawn) : '' }}
        </p>
        <p id="figure-keys" class="out-of-sight">
          Arrow keys walk from mark to mark; Shift and arrow keys move the figure; plus and minus
          zoom; zero fits it to the data; Enter opens the mark; F2 edits the words that are tuned,
          or the title.
        </p>
        <svg
          v-if="rings || outlinePath || read || reached || side.candidates.length"
          class="over"
          :viewBox="`0 0 ${page.width} ${page.height}`"
          aria-hidden="true"
        >
          <rect v-if="reached" class="reached" v-bind="reached" rx="3" />
          <Candidates v-if="layout && side.candidates.length" :layout="layout" />
          <path v-if="rings" class="rings" :d="rings" />
          <path v-if="outlinePath" :d="outlinePath" />
          <template v-if="read && layout">
            <path
              :d="`M${layout.plot.x} ${read.y}H${read.x}V${layout.plot.y + layout.plot.height}`"
            />
            <circle :cx="read.x" :cy="read.y" r="4" />
          </template>
        </svg>
        <div
          v-if="read"
          class="said"
          role="status"
          :style="{ left: `${read.x * scale + 10}px`, top: `${read.y * scale - 34}px` }"
        >
          {{ read.text }}
        </div>
        <WordEditor v-if="editing" :words="editing" :scale="scale" @done="edited" />
        <Hover
          v-if="hovered && seen"
          :hovered="hovered"
          :scale="scale"
          :drawn="seen"
          :row-lines="(row) => rowOf(seen!.document.table, row)"
        />
        <Waiting v-if="figure.waiting" :done="figure.done" @stop="figure.stop" />
      </div>
    </div>
    <slot />
  </div>
</template>

<style scoped>
.canvas--point.canvas--hit {
  cursor: pointer;
}

.canvas--box,
.canvas--rope {
  cursor: crosshair;
}

.canvas--move {
  cursor: grab;
}

.canvas--move:active {
  cursor: grabbing;
}
</style>
