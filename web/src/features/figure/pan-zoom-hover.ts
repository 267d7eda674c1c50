/** Looking at a figure: zoom, moving about, and what is under the pointer or reached by the keys. */
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { FigureDocument } from '@/api/types'
import type { Layout } from '@/render/layout/figure'
import type { RenderedFigure } from '@/render/figure'
import { indexMarks, type MarkIndex } from '@/render/geometry/pick'
import { contains } from '@/render/scene'
import { measure } from '@/render/text/measure'
import { drawnKind } from '@/kinds/renderers'
import { facesOf } from '@/canvas/fonts'
import { pressed } from '@/figure-model/keys'
import { hoverAt, markAt, nextMark, type Hovered } from './hovering'
import { useFigureCanvas } from '@/canvas/figure-canvas'
import { useElementSize, useFittedFigure } from '@/canvas/element-size'

const ZOOM = 1.25
const TEN = 10
/** After so long without a wheel or a key, what was looked for is found. */
const SETTLES_MS = 180
/** A finger that rests so long, and strays no further in pixels, asks what is under it. */
const RESTS_MS = 450
const STRAYS = 8
/** A box that is let go while it moves runs on for a while: so fast, in points a millisecond. */
const LEAST_SPEED = 0.25
const SLOWS = 0.92
const MS_A_FRAME = 16

const NOTHING: MarkIndex = { nearest: () => -1, inside: () => new Uint32Array(0) }

/** What of a drag is needed to follow it. */
export interface Pan {
  x: number
  y: number
  view: unknown
}

interface Shown {
  host: Readonly<Ref<HTMLElement | null>>
  canvas: Readonly<Ref<HTMLCanvasElement | null>>
  figure: () => RenderedFigure | null
  /** Whether it is seen on its own page, whatever room there is. */
  asPage?: () => boolean
  /** Keeps a view that is a part of the figure, where figures can be changed. */
  keep?: (change: (draft: FigureDocument) => void) => void
  /** Whether the page under it scrolls. */
  pageScrolls?: () => boolean
  /** Is told what is in view once it rests; null for all of it. */
  looked?: (view: unknown) => void
}

export function usePanZoomHover({
  host,
  canvas,
  figure: given,
  asPage,
  keep,
  pageScrolls,
  looked,
}: Shown) {
  const room = useElementSize(host)
  /** The figure in the room that it has. */
  const seen = useFittedFigure(given, room, asPage)
  const figure = (): RenderedFigure | null => seen.value
  const view = shallowRef<unknown>(null)
  let moving = false
  let settling = 0
  let running = 0
  let resting = 0
  const layout = shallowRef<Layout | null>(null)
  const hovered = shallowRef<Hovered | null>(null)
  /** The category whose entry was clicked: all others are faded until it is clicked again, or Escape. */
  const only = ref<number | null>(null)
  const isHome = computed(() => {
    const shown = figure()
    const first = shown && drawnKind(shown.document).looking?.first
    return first ? JSON.stringify(current()) === JSON.stringify(first()) : view.value === null
  })
  const page = computed(() => figure()?.document.page ?? { width: 720, height: 610 })
  let index: MarkIndex | null = null

  const lookingAt = (shown: RenderedFigure) => drawnKind(shown.document).looking!

  /** What is in view, as far as the figure has a place for it. */
  const current = (): unknown => {
    const shown = figure()!
    const { home, held } = lookingAt(shown)
    return view.value === null ? home(shown) : held(view.value, shown)
  }

  const { scale, size, redraw, place, beside } = useFigureCanvas({
    host,
    canvas,
    page,
    room,
    faces: () => facesOf(figure()?.document),
    scene: () => {
      const shown = figure()
      if (!shown) return null
      const made = lookingAt(shown).layout(
        { ...shown, only: only.value },
        measure,
        current(),
        moving,
      )
      layout.value = made
      index = null
      replaceHover(made, shown)
      return made.scene
    },
  })
  // A place among the categories says nothing of other categories, or of theirs in another order.
  watch(
    () => JSON.stringify([figure()?.answer.colour?.variable, figure()?.answer.colour?.categories]),
    () => (only.value = null),
  )
  watch([figure, only], redraw)

  /** The row whose mark was hovered when the answer changed: it is found again once it is laid out. */
  let hoveredRow: number | null = null
  // At once: what is said of a mark is never read from another answer than the one it is in.
  watch(
    () => [figure()?.answer, figure()?.marks],
    () => {
      const { value } = hovered
      if (value?.kind === 'mark') hoveredRow = value.row
      hovered.value = null
    },
    { flush: 'sync' },
  )

  /** Finds the hovered mark where it now stands, or leaves it where it is gone. */
  function replaceHover(made: Layout, { marks }: RenderedFigure): void {
    const { value } = hovered
    const row = value?.kind === 'mark' ? value.row : hoveredRow
    hoveredRow = null
    if (row === null) return
    const isAt = (drawn: number): boolean => marks.row[made.source[drawn]] === row
    const drawn =
      value?.kind === 'mark' && isAt(value.drawn)
        ? value.drawn
        : made.source.findIndex((source) => marks.row[source] === row)
    hovered.value = drawn < 0 ? null : markAt(made, marks, drawn)
  }

  const markIndex = (made: Layout): MarkIndex => (index ??= indexOf(made))

  const indexOf = ({ marks, radius, isTurned }: Layout): MarkIndex =>
    // A cell is no row: there is nothing to be pointed at.
    (marks.cells ? NOTHING : null) ??
    beside.index(marks, radius, isTurned) ??
    indexMarks(marks.x, marks.y, marks.clip, radius, isTurned)

  /** What is pointed at can be told, without the page standing still for it. */
  const isIndexed = ({ marks, radius }: Layout): boolean =>
    index !== null ||
    marks.cells !== undefined ||
    !beside.isLarge(marks) ||
    beside.index(marks, radius) !== null

  function set(next: unknown): void {
    view.value = next
    hovered.value = null
    redraw()
    clearTimeout(resting)
    if (looked) resting = window.setTimeout(() => looked(view.value), SETTLES_MS)
  }

  // What is typed or dragged is what is wanted to be seen, however it was looked at before.
  watch(
    () => {
      const shown = figure()
      return shown ? lookingAt(shown).follows.map(({ of }) => of(shown)) : []
    },
    (now, before) => {
      const shown = figure()
      if (view.value === null || !shown) return
      lookingAt(shown).follows.forEach(({ follow }, i) => {
        if (view.value !== null && now[i] !== before[i]) set(follow(view.value, shown))
      })
    },
  )

  /** What moves under the hand may be rough; what it rests at is whole, and is kept. */
  function settle(): void {
    cancelAnimationFrame(running)
    clearTimeout(settling)
    if (!moving) return
    moving = false
    const shown = figure()
    const looked = view.value
    const kept = shown && lookingAt(shown).kept
    if (kept && keep && looked !== null) keep((draft) => kept(draft, looked))
    redraw()
  }

  function moved(next: unknown): void {
    const shown = figure()
    moving = Boolean(shown && lookingAt(shown).kept)
    clearTimeout(settling)
    set(next)
  }

  /** Moved by a wheel or a key, which do not say when they end. */
  function stepped(next: unknown): void {
    moved(next)
    settling = window.setTimeout(settle, SETTLES_MS)
  }

  /** All of it again: the document's own view, or the one with which a box begins. */
  function goHome(): void {
    const shown = figure()
    const first = shown && lookingAt(shown).first
    if (first) stepped(first())
    else set(null)
  }

  function zoomBy(factor: number, x?: number, y?: number): void {
    const [made, shown] = [layout.value, figure()]
    if (!made || !shown) return
    const { plot } = made
    const about: [number, number] = [x ?? plot.x + plot.width / 2, y ?? plot.y + plot.height / 2]
    const next = lookingAt(shown).zoom(current(), made, about, factor)
    if (next) stepped(next)
  }

  function wheel(event: WheelEvent): void {
    const made = layout.value
    if (!made) return
    const [x, y] = place(event)
    // Where the page scrolls, a bare wheel scrolls it; a pinch, or Ctrl, zooms.
    if (!contains(made.plot, x, y) || (pageScrolls?.() && !event.ctrlKey)) return
    event.preventDefault()
    // A pinch arrives as a wheel with Ctrl and small steps.
    const strength = event.ctrlKey ? 0.01 : event.deltaMode === 1 ? 0.05 : 0.0015
    zoomBy(Math.exp(Math.max(-80, Math.min(80, event.deltaY)) * strength), x, y)
  }

  let speed = { x: 0, y: 0, at: 0, px: 0, py: 0 }

  function pan(from: Pan, x: number, y: number): void {
    const [made, shown] = [layout.value, figure()]
    if (!made || !shown) return
    const now = performance.now()
    const passed = Math.max(1, now - speed.at)
    speed = {
      x: passed > 200 ? 0 : (x - speed.px) / passed,
      y: passed > 200 ? 0 : (y - speed.py) / passed,
      at: now,
      px: x,
      py: y,
    }
    moved(lookingAt(shown).pan(from.view, made, x - from.x, y - from.y))
  }

  /** A drag has ended: what is turned runs on, if it was let go in motion and motion is wanted. */
  function letGo(): void {
    const isStill = matchMedia('(prefers-reduced-motion: reduce)').matches
    const shown = figure()
    const { isTurned } = shown ? lookingAt(shown) : {}
    const late = performance.now() - speed.at > 60
    if (!moving || !isTurned || isStill || late || Math.hypot(speed.x, speed.y) < LEAST_SPEED) {
      settle()
      return
    }
    const run = (): void => {
      const [made, now] = [layout.value, figure()]
      if (!made || !now || Math.hypot(speed.x, speed.y) < LEAST_SPEED / 8) {
        settle()
        return
      }
      const { pan: by } = lookingAt(now)
      moved(by(current(), made, speed.x * MS_A_FRAME, speed.y * MS_A_FRAME))
      speed = { ...speed, x: speed.x * SLOWS, y: speed.y * SLOWS }
      running = requestAnimationFrame(run)
    }
    running = requestAnimationFrame(run)
  }

  /** Fingers on the figure, by their pointer; two of them pinch. */
  const fingers = new Map<number, [number, number]>()
  let apart = 0
  let middle: [number, number] = [0, 0]
  /** One finger that rests asks what is under it, and goes on asking while it moves. */
  let fingerRests = 0
  let restsAt: [number, number] = [0, 0]
  let asks = false

  /** A finger comes or goes; whether two are there now. */
  function touch(event: PointerEvent, isDown: boolean): boolean {
    if (event.pointerType !== 'touch') return false
    clearTimeout(fingerRests)
    if (isDown) fingers.set(event.pointerId, place(event))
    else fingers.delete(event.pointerId)
    // From where they came down: what the first of them moves before the other counts as well.
    if (fingers.size === 2) held()
    if (isDown) {
      asks = false
      restsAt = [event.clientX, event.clientY]
      if (fingers.size === 1)
        fingerRests = window.setTimeout(() => {
          asks = true
          hover(event)
        }, RESTS_MS)
    }
    return fingers.size > 1
  }

  /** How two fingers stand: how far apart, and about what. */
  function held(): void {
    const [[ax, ay], [bx, by]] = fingers.values()
    apart = Math.hypot(ax - bx, ay - by)
    middle = [(ax + bx) / 2, (ay + by) / 2]
  }

  /** Comes closer about the middle of two fingers, and goes where they go; a box is not turned. */
  function pinch(factor: number, from: [number, number]): void {
    const [made, shown] = [layout.value, figure()]
    if (!made || !shown) return
    const look = lookingAt(shown)
    const next = look.zoom(current(), made, middle, factor) ?? current()
    stepped(look.isTurned ? next : look.pan(next, made, middle[0] - from[0], middle[1] - from[1]))
  }

  /** A finger that rests asks; two that part or close come closer or go away; else false. */
  function byFinger(event: PointerEvent): boolean {
    if (!fingers.has(event.pointerId)) return false
    fingers.set(event.pointerId, place(event))
    if (Math.hypot(event.clientX - restsAt[0], event.clientY - restsAt[1]) > STRAYS)
      clearTimeout(fingerRests)
    if (asks) hover(event)
    if (fingers.size !== 2) return asks
    const [before, about] = [apart, middle]
    held()
    if (before > 0 && apart > 0) pinch(before / apart, about)
    return true
  }

  /** A pointer has gone; a finger that was lifted leaves what it asked for. */
  function leave(event: PointerEvent): void {
    if (event.pointerType !== 'touch') hovered.value = null
  }

  /** Takes note of what is under the pointer. */
  function hover(event: MouseEvent): void {
    const [made, shown] = [layout.value, figure()]
    if (made && shown && isIndexed(made))
      hovered.value = hoverAt(made, markIndex(made), shown, ...place(event))
  }

  /** The mark that was reached; -1 where none is. */
  const at = (): number => (hovered.value?.kind === 'mark' ? hovered.value.drawn : -1)

  /** From mark to mark with the arrow keys: left and right by x, up and down by y. */
  function walk([dx, dy]: [number, number], steps = 1, start = at()): void {
    const [made, shown] = [layout.value, figure()]
    if (!made || !shown) return
    let mark = start
    for (let step = 0; step < steps; step++) {
      const next = nextMark(made, mark, dx || dy, dx ? 'x' : 'y')
      if (next < 0) break
      mark = next
    }
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
    const [made, shown] = [layout.value, figure()]
    const shift = (right: number, up: number): void => {
      if (made && shown) stepped(lookingAt(shown).step(current(), made, right, up))
    }
    const meant = pressed(shown && lookingAt(shown).isTurned ? 'box' : 'figure', event)
    const does: Partial<Record<NonNullable<typeof meant>, () => void>> = {
      left: () => walk([-1, 0]),
      right: () => walk([1, 0]),
      up: () => walk([0, 1]),
      down: () => walk([0, -1]),
      first: () => walk([1, 0], 1, -1),
      last: () => walk([-1, 0], 1, -1),
      tenBack: () => walk([-1, 0], TEN),
      tenOn: () => walk([1, 0], TEN),
      moveLeft: () => shift(-1, 0),
      moveRight: () => shift(1, 0),
      moveUp: () => shift(0, 1),
      moveDown: () => shift(0, -1),
      closer: () => zoomBy(1 / ZOOM),
      further: () => zoomBy(ZOOM),
      home: () => goHome(),
      // The innermost first: what is said of a mark, then the categories that are faded.
      ...(hovered.value
        ? { all: () => (hovered.value = null) }
        : only.value === null
          ? {}
          : { all: () => (only.value = null) }),
    }
    if (!meant || !does[meant]) return false
    does[meant]()
    return true
  }

  return {
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
    reset: () => set(null),
    zoomIn: () => zoomBy(1 / ZOOM),
    zoomOut: () => zoomBy(ZOOM),
    wheel,
    pan,
    letGo,
    touch,
    byFinger,
    /** Whether the finger that was lifted asked, and did not mean to do anything. */
    hasAsked: () => asks,
    leave,
    hover,
    lookByKey,
  }
}
