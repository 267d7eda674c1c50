/** Looking at a figure: zoom, moving about, and what is under the pointer or reached by the keys. */
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import { homeView, type View } from '@/drawing/layout/extents'
import { layoutFigure, type Layout } from '@/drawing/layout/figure'
import type { Figure } from '@/drawing/drawn'
import { indexMarks, type MarkIndex } from '@/drawing/geometry/pick'
import { warpOf, type Extent } from '@/drawing/geometry/scale'
import { contains } from '@/drawing/scene'
import { canvasMeasure } from '@/drawing/text/text'
import { facesOf } from './fonts'
import { pressed } from '@/model/keys'
import { hoverAt, nextMark, type Hovered } from './hovering'
import { usePage } from './page'
import { moveView, zoomView } from './view'

const STEP = 0.05
const ZOOM = 1.25

interface Shown {
  host: Readonly<Ref<HTMLElement | null>>
  canvas: Readonly<Ref<HTMLCanvasElement | null>>
  figure: () => Figure | null
  roomBelow?: number
}

export function useExploring({ host, canvas, figure, roomBelow }: Shown) {
  const view = shallowRef<View | null>(null)
  const layout = shallowRef<Layout | null>(null)
  const hovered = shallowRef<Hovered | null>(null)
  /** The category whose entry was clicked: all others are faded until it is clicked again, or Escape. */
  const only = ref<number | null>(null)
  const measure = canvasMeasure()
  const isHome = computed(() => view.value === null)
  const page = computed(() => figure()?.document.page ?? { width: 720, height: 610 })
  let index: MarkIndex | null = null

  /** What is in view: of each axis, as far as its scale has a place for it. */
  const current = (): View => {
    const shown = figure()!
    const home = homeView(shown)
    if (!view.value) return home
    const { x, y } = view.value
    const { axes } = shown.document
    return {
      x: hasPlace(x, axes.x.scale) ? x : home.x,
      y: hasPlace(y, axes.y.scale) ? y : home.y,
    }
  }

  const { scale, size, redraw, place, beside } = usePage({
    host,
    canvas,
    page,
    roomBelow,
    faces: () => facesOf(figure()?.document),
    scene: () => {
      const shown = figure()
      if (!shown) return null
      const made = layoutFigure({ ...shown, only: only.value }, measure, current())
      layout.value = made
      index = null
      return made.scene
    },
  })
  // A place among the categories says nothing of other categories, or of theirs in another order.
  watch(
    () => JSON.stringify([figure()?.answer.colour?.variable, figure()?.answer.colour?.categories]),
    () => (only.value = null),
  )
  watch([figure, only], redraw)

  const markIndex = (made: Layout): MarkIndex => (index ??= indexOf(made))

  const indexOf = ({ marks, radius }: Layout): MarkIndex =>
    beside.index(marks, radius) ?? indexMarks(marks.x, marks.y, marks.clip, radius)

  /** What is pointed at can be told, without the page standing still for it. */
  const isIndexed = ({ marks, radius }: Layout): boolean =>
    index !== null || !beside.isLarge(marks) || beside.index(marks, radius) !== null

  function set(next: View | null): void {
    view.value = next
    hovered.value = null
    redraw()
  }

  // Ends that are typed or dragged are what is wanted to be seen, however it was zoomed before.
  for (const side of ['x', 'y'] as const)
    watch(
      () => {
        const { low, high, scale, base } = figure()?.document.axes[side] ?? {}
        return JSON.stringify([low, high, scale, base])
      },
      () => {
        const shown = figure()
        if (view.value && shown) set({ ...view.value, [side]: homeView(shown)[side] })
      },
    )

  function zoomBy(factor: number, x?: number, y?: number): void {
    const made = layout.value
    if (!made || !figure()) return
    const about = {
      x: made.x.fromPage(x ?? made.plot.x + made.plot.width / 2),
      y: made.y.fromPage(y ?? made.plot.y + made.plot.height / 2),
    }
    const next = zoomView(current(), made, about, factor)
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

  function pan(from: { x: number; y: number; view: View }, x: number, y: number): void {
    const made = layout.value
    if (!made) return
    const [right, up] = directions(made)
    const byX = (right * (from.x - x)) / made.plot.width
    const byY = (up * (y - from.y)) / made.plot.height
    set(moveView(from.view, made, byX, byY))
  }

  /** Takes note of what is under the pointer. */
  function hover(event: MouseEvent): void {
    const [made, shown] = [layout.value, figure()]
    if (made && shown && isIndexed(made))
      hovered.value = hoverAt(made, markIndex(made), shown, ...place(event))
  }

  /** From mark to mark with the arrow keys: left and right by x, up and down by y. */
  function walk([dx, dy]: [number, number]): void {
    const [made, shown] = [layout.value, figure()]
    if (!made || !shown) return
    const from = hovered.value?.kind === 'mark' ? hovered.value.drawn : -1
    const mark = nextMark(made, from, dx || dy, dx ? 'x' : 'y')
    if (mark >= 0)
      hovered.value = hoverAt(
        made,
        markIndex(made),
        shown,
        made.marks.x[mark],
        made.marks.y[mark],
        mark,
      )
  }

  /** Does what a key means for looking; false where it means nothing. */
  function lookByKey(event: KeyboardEvent): boolean {
    const shift = (right: number, up: number): void => {
      if (layout.value) set(moveView(current(), layout.value, right * STEP, up * STEP))
    }
    const meant = pressed('figure', event)
    const does: Partial<Record<NonNullable<typeof meant>, () => void>> = {
      left: () => walk([-1, 0]),
      right: () => walk([1, 0]),
      up: () => walk([0, 1]),
      down: () => walk([0, -1]),
      moveLeft: () => shift(-1, 0),
      moveRight: () => shift(1, 0),
      moveUp: () => shift(0, 1),
      moveDown: () => shift(0, -1),
      closer: () => zoomBy(1 / ZOOM),
      further: () => zoomBy(ZOOM),
      home: () => set(null),
      ...(only.value === null ? {} : { all: () => (only.value = null) }),
    }
    if (!meant || !does[meant]) return false
    does[meant]()
    return true
  }

  return {
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
    set,
    zoomIn: () => zoomBy(1 / ZOOM),
    zoomOut: () => zoomBy(ZOOM),
    wheel,
    pan,
    hover,
    lookByKey,
  }
}

/** Whether a scale has a place for both ends of a stretch. */
const hasPlace = ([low, high]: Extent, scale: 'linear' | 'log' | 'sqrt'): boolean => {
  const { least } = warpOf(scale)
  return low >= least && high > low && Number.isFinite(low) && Number.isFinite(high)
}

/** Which way values grow on the page: to the right and up, unless an axis is reversed. */
const directions = ({ x, y }: Layout): [number, number] => [
  x.range[0] < x.range[1] ? 1 : -1,
  y.range[0] > y.range[1] ? 1 : -1,
]
