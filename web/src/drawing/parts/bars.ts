/** Error bars: whiskers with their caps, in the colours of their marks. */
import type { FigureDocument, Marks } from '@/api/types'
import type { Scale } from '@/drawing/geometry/scale'
import type { Looks } from '@/drawing/marks/looks'
import { OFF_THE_PAGE } from '@/drawing/marks/places'
import type { Box, Colour, Item, SegmentsItem } from '@/drawing/scene'
import type { Scales } from './overlays'

const BAR_OPACITY = 0.85
/** Of more bars than this, those that cover each other are drawn as one. */
const FEW = 8_000
/** How closely many bars are told apart, in points; less closely where they have many colours. */
const STEP = 0.5
const MANY_COLOURS = 8

export function barItems(
  document: FigureDocument,
  marks: Marks,
  looks: Looks,
  places: { x: Float32Array; y: Float32Array },
  { x, y }: Scales,
  clip: Box,
): Item[] {
  return (['x', 'y'] as const).flatMap((side) => {
    const bar = document.error_bars[side]
    const lows = marks[`${side}_low`]
    const highs = marks[`${side}_high`]
    if (!bar || !lows || !highs) return []
    const scale = side === 'x' ? x : y
    const across = side === 'x' ? places.y : places.x
    const colours = byColour(looks, (i) => !Number.isNaN(lows[i]) && !Number.isNaN(highs[i]))
    const step = colours.length > MANY_COLOURS ? 2 * STEP : STEP
    const pens = lows.length > FEW ? together(side, clip, step) : oneByOne(side)
    return colours.map(({ colour, members }): SegmentsItem => {
      for (const i of members) {
        if (across[i] === OFF_THE_PAGE) continue
        const from = placeOn(scale, lows[i])
        const to = placeOn(scale, highs[i])
        pens.along(across[i], from, to)
        if (bar.cap > 0) for (const end of [from, to]) pens.cap(end, across[i], bar.cap / 2)
      }
      return {
        kind: 'segments',
        part: 'marks',
        points: pens.lines(),
        stroke: colour,
        opacity: BAR_OPACITY,
        width: bar.width,
        clip,
      }
    })
  })
}

/** The marks of each colour that have a bar, in the order in which colours come. */
function byColour(
  { looks, of }: Looks,
  hasBar: (i: number) => boolean,
): { colour: Colour; members: number[] }[] {
  const groups = new Map<string, { colour: Colour; members: number[] }>()
  const ofLook = looks.map(({ colour }) => {
    const held = groups.get(colour.join()) ?? { colour, members: [] }
    groups.set(colour.join(), held)
    return held
  })
  for (let i = 0; i < of.length; i++) if (hasBar(i)) ofLook[of[i]].members.push(i)
  return [...groups.values()].filter(({ members }) => members.length)
}

/** An end that a logarithmic axis has no place for stands at its edge. */
const placeOn = (scale: Scale, value: number): number => {
  const place = scale.toPage(value)
  return Number.isFinite(place) ? place : scale.range[0]
}

/** What draws bars of one colour, and is empty again when its lines were taken. */
interface Pens {
  /** A line along the axis of the bars, at a place across it. */
  along: (at: number, from: number, to: number) => void
  /** A cap at an end, so far to each side. */
  cap: (end: number, at: number, half: number) => void
  lines: () => Float64Array
}

function oneByOne(side: 'x' | 'y'): Pens {
  let points: number[] = []
  const add = (a: number, b: number, c: number, d: number): void => {
    if (side === 'x') points.push(a, b, c, d)
    else points.push(b, a, d, c)
  }
  return {
    along: (at, from, to) => add(from, at, to, at),
    cap: (end, at, half) => add(end, at - half, end, at + half),
    lines: () => {
      const made = Float64Array.from(points)
      points = []
      return made
    },
  }
}

/** Draws what covers each other once: of hundreds of thousands of bars only what can be seen. */
function together(side: 'x' | 'y', clip: Box, step: number): Pens {
  const upright = covering(clip.x, clip.width, clip.y, clip.height, step)
  const level = covering(clip.y, clip.height, clip.x, clip.width, step)
  const [bars, caps] = side === 'y' ? [upright, level] : [level, upright]
  return {
    along: bars.add,
    cap: (end, at, half) => caps.add(end, at - half, at + half),
    lines: () => {
      const points: number[] = []
      upright.take((at, from, to) => points.push(at, from, at, to))
      level.take((at, from, to) => points.push(from, at, to, at))
      return Float64Array.from(points)
    },
  }
}

interface Covering {
  add: (at: number, from: number, to: number) => void
  /** Gives every stretch that is covered, and forgets it. */
  take: (give: (at: number, from: number, to: number) => void) => void
}

/** Parallel lines on a grid: where each begins and ends is counted, and from that what is covered. */
function covering(
  start: number,
  breadth: number,
  begin: number,
  length: number,
  step: number,
): Covering {
  const lanes = Math.ceil(breadth / step) + 1
  const cells = Math.ceil(length / step) + 2
  const changes = new Int32Array(lanes * cells)
  const first = new Int32Array(lanes).fill(cells)
  const last = new Int32Array(lanes).fill(-1)
  return {
    add(at, from, to) {
      const lane = Math.round((at - start) / step)
      if (!(lane >= 0 && lane < lanes)) return
      const low = Math.round((Math.min(from, to) - begin) / step)
      const high = Math.round((Math.max(from, to) - begin) / step)
      if (high < 0 || low > cells - 2) return
      const [a, b] = [Math.max(0, low), Math.min(cells - 1, high)]
      changes[lane * cells + a]++
      changes[lane * cells + b]--
      if (a < first[lane]) first[lane] = a
      if (b > last[lane]) last[lane] = b
    },
    take(give) {
      for (let lane = 0; lane < lanes; lane++) {
        let count = 0
        let from = 0
        for (let cell = first[lane]; cell <= last[lane]; cell++) {
          const change = changes[lane * cells + cell]
          changes[lane * cells + cell] = 0
          if (!change) continue
          if (!count) from = cell
          count += change
          if (!count) give(start + lane * step, begin + from * step, begin + cell * step)
        }
        first[lane] = cells
        last[lane] = -1
      }
    },
  }
}
