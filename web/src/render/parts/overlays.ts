/** What is laid under and over the marks: connecting lines, reference lines, notes. */
import type { Answer, FigureDocument, Marks } from '@/api/types'
import { through } from './connect'
import { INK, SOFT_INK } from '@/render/colours'
import { penFor, type Pen } from '@/render/text/lettering'
import type { Looks } from '@/render/marks/looks'
import { OFF_THE_PAGE } from '@/render/marks/places'
import type { Scale } from '@/render/geometry/scale'
import type { MarkIndex } from '@/render/geometry/mark-index'
import type { Obstacles } from '@/render/placement/obstacles'
import type { Box, Item, Part, Region } from '@/render/scene'
import { parseRuns, widthOf, wrap, type Measure, type Run } from '@/render/text/text'

const DASH = [5, 4]
const RANGE_OPACITY = 0.09
const NOTE_LINE = 1.3

export interface Scales {
  x: Scale
  y: Scale
}

/** A line through the points of each colour. */
export function connectItems(
  document: FigureDocument,
  answer: Answer,
  marks: Marks,
  looks: Looks,
  places: { x: Float32Array; y: Float32Array },
  clip: Box,
): Item[] {
  const connect = document.connect
  if (!connect) return []
  const grouped = answer.colour?.scale === 'category' ? marks.colour : null
  const groups = new Map<number, number[]>()
  for (let i = 0; i < places.x.length; i++) {
    if (marks.aside[i] || places.x[i] === OFF_THE_PAGE) continue
    const group = grouped ? grouped[i] : 0
    const held = groups.get(group)
    if (held) held.push(i)
    else groups.set(group, [i])
  }
  const by = connect.order === 'x' ? marks.x : connect.order === 'variable' ? marks.order : null
  return [...groups.values()].flatMap((members): Item[] => {
    const order = by ? members.filter((i) => !Number.isNaN(by[i])) : members
    if (by) order.sort((a, b) => by[a] - by[b] || a - b)
    if (order.length < 2) return []
    return [
      {
        kind: 'path',
        part: 'marks',
        points: through(
          order.map((i) => places.x[i]),
          order.map((i) => places.y[i]),
          connect.line,
        ),
        closed: false,
        stroke: looks.looks[looks.of[order[0]]].colour,
        width: connect.width,
        clip,
      },
    ]
  })
}

/** The words of a reference line, and where they may stand, the first choice first. */
export interface ReferenceLabel {
  part: Part
  runs: Run[]
  pen: Pen
  places: Box[]
}

/** Reference lines and shaded ranges, and the words beside them. */
export function referenceItems(
  document: FigureDocument,
  answer: Answer,
  { x, y }: Scales,
  plot: Box,
  measure: Measure,
): { under: Item[]; over: Item[]; labels: ReferenceLabel[]; regions: Region[] } {
  const under: Item[] = []
  const over: Item[] = []
  const labels: ReferenceLabel[] = []
  const regions: Region[] = []
  const pen = { ...penFor(document, 'notes'), colour: SOFT_INK }
  const size = (pen.size *= 0.92)
  document.references.forEach((reference, i) => {
    const part = `reference-${i}` as const
    const dash = reference.dashed ? DASH : []
    const line = (points: number[]): Item => ({
      kind: 'path',
      part,
      points: Float64Array.from(points),
      closed: false,
      stroke: SOFT_INK,
      width: 1.2,
      dash,
      clip: plot,
    })
    let along: ((size: Pick<Box, 'width' | 'height'>) => Box[]) | null = null
    if (reference.at === 'identity') {
      const low = Math.max(x.domain[0], y.domain[0])
      const high = Math.min(x.domain[1], y.domain[1])
      if (low >= high) return
      // Straight on equal scales only: it is drawn through many places.
      const values = Array.from({ length: 65 }, (_, k) => low + ((high - low) * k) / 64)
      over.push(line(values.flatMap((v) => [x.toPage(v), y.toPage(v)])))
      along = (room) =>
        values
          .toReversed()
          .flatMap((v) => aside(x.toPage(v), y.toPage(v), room))
          .filter((box) => box.y >= plot.y)
    } else {
      const across = reference.axis === 'x'
      const scale = across ? x : y
      const axis = across ? answer.x : answer.y
      const value =
        reference.at === 'mean'
          ? axis.mean
          : reference.at === 'median'
            ? axis.median
            : reference.value
      if (value === null) return
      const at = scale.toPage(value)
      if (reference.at === 'range') {
        const to = scale.toPage(reference.high ?? value)
        const points = across
          ? [at, plot.y, to, plot.y, to, plot.y + plot.height, at, plot.y + plot.height]
          : [plot.x, at, plot.x + plot.width, at, plot.x + plot.width, to, plot.x, to]
        under.push({
          kind: 'path',
          part,
          points: Float64Array.from(points),
          closed: true,
          fill: INK,
          fillOpacity: RANGE_OPACITY,
          clip: plot,
        })
      } else {
        over.push(
          line(
            across ? [at, plot.y, at, plot.y + plot.height] : [plot.x, at, plot.x + plot.width, at],
          ),
        )
      }
      const inside = value >= scale.domain[0] && value <= scale.domain[1]
      if (inside)
        along = (room) => (across ? besideUp(at, plot, room) : besideLevel(at, plot, room))
      regions.push({
        part,
        box: across
          ? { x: at - 3, y: plot.y, width: 6, height: plot.height }
          : { x: plot.x, y: at - 3, width: plot.width, height: 6 },
      })
    }
    if (!reference.label || !along) return
    const runs = parseRuns(reference.label)
    const room = { width: widthOf(runs, pen, measure), height: size * 1.2 }
    labels.push({ part, runs, pen, places: along(room) })
  })
  return { under, over, labels, regions }
}

/** Steps along a line at which its words are tried. */
const TRIED = 24
const BESIDE = 4

const steps = (from: number, to: number): number[] =>
  Array.from({ length: TRIED + 1 }, (_, i) => from + ((to - from) * i) / TRIED)

/** Beside an upright line from its top down, on either side; above the plot where nothing is free. */
function besideUp(at: number, plot: Box, { width, height }: Pick<Box, 'width' | 'height'>): Box[] {
  const tops = steps(plot.y, plot.y + plot.height - height)
  const sides = [at + BESIDE, at - BESIDE - width]
  return [
    ...tops.flatMap((y) => sides.map((x) => ({ x, y, width, height }))),
    { x: at - width / 2, y: plot.y - height - 1, width, height },
  ]
}

/** Over and under a level line, from its right end back. */
function besideLevel(
  at: number,
  plot: Box,
  { width, height }: Pick<Box, 'width' | 'height'>,
): Box[] {
  return steps(plot.x + plot.width - width, plot.x).flatMap((x) => [
    { x, y: at - BESIDE / 2 - height, width, height },
    { x, y: at + BESIDE / 2, width, height },
  ])
}

const aside = (x: number, y: number, { width, height }: Pick<Box, 'width' | 'height'>): Box[] => [
  { x: x - width - BESIDE, y: y - height / 2, width, height },
  { x: x + BESIDE, y, width, height },
]

/** Puts the words of reference lines where they cover nothing. */
export function referenceLabels(
  labels: readonly ReferenceLabel[],
  plot: Box,
  obstacles: Obstacles,
  marksOf: () => MarkIndex,
): { items: Item[]; left: number } {
  if (!labels.length) return { items: [], left: 0 }
  const marks = marksOf()
  const items = labels.flatMap(({ part, runs, pen, places }): Item[] => {
    const box = places.find(
      (one) => (one.y + one.height <= plot.y || obstacles.isFree(one)) && marks.under(one) === 0,
    )
    if (!box) return []
    obstacles.addBox(box)
    const y = box.y + pen.size * 0.92
    return [{ kind: 'text', part, x: box.x, y, runs, ...pen, anchor: 'start', turn: 0 }]
  })
  return { items, left: labels.length - items.length }
}

/** Notes: words where they were put, with a line to what they speak of. */
export function noteItems(
  document: FigureDocument,
  { x, y }: Scales,
  measure: Measure,
): { items: Item[]; regions: Region[] } {
  const { width, height } = document.page
  const pen = penFor(document, 'notes')
  const { size } = pen
  const items: Item[] = []
  const regions: Region[] = []
  document.notes.forEach((note, i) => {
    const part = `note-${i}` as const
    const [left, top] =
      note.anchor === 'data'
        ? [x.toPage(note.x), y.toPage(note.y)]
        : [note.x * width, note.y * height]
    if (!Number.isFinite(left) || !Number.isFinite(top)) return
    const lines = wrap(note.text, width * 0.4, pen, measure)
    const widest = Math.max(...lines.map((runs) => widthOf(runs, pen, measure)))
    // Nothing on a figure is cut off: a note at the edge is moved inside.
    const box = {
      x: Math.max(4, Math.min(left, width - widest - 4)),
      y: Math.max(4, Math.min(top, height - lines.length * size * NOTE_LINE - 4)),
      width: widest,
      height: lines.length * size * NOTE_LINE,
    }
    if (note.points_to) {
      const [tx, ty] = [x.toPage(note.points_to[0]), y.toPage(note.points_to[1])]
      const fx = Math.max(box.x - 3, Math.min(tx, box.x + box.width + 3))
      const fy = Math.max(box.y, Math.min(ty, box.y + box.height))
      if (Number.isFinite(tx) && Number.isFinite(ty))
        items.push({
          kind: 'path',
          part,
          points: Float64Array.of(fx, fy, tx, ty),
          closed: false,
          stroke: SOFT_INK,
          width: 1,
        })
    }
    lines.forEach((runs, k) =>
      items.push({
        kind: 'text',
        part,
        x: box.x,
        y: box.y + size * (0.92 + k * NOTE_LINE),
        runs,
        ...pen,
        anchor: 'start',
        turn: 0,
      }),
    )
    regions.push({ part, box })
  })
  return { items, regions }
}
