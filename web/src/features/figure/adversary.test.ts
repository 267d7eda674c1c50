/**
 * Random figures, with everything that changes the order in which marks are drawn: whatever is under
 * a mark is the row whose own values put it there.
 */
import { describe, expect, it } from 'vitest'
import { blankColour, blankDocument, blankNames, blankSize } from '@/figure-model/blank'
import type { Answer, FigureDocument, Marks } from '@/api/types'
import { hoverAt, nextMark } from './hovering'
import { zoomView } from '@/render/layout/view-ends'
import { homeView } from '@/render/layout/extents'
import { layoutFigure, type Layout } from '@/render/layout/figure'
import type { RenderedFigure } from '@/render/figure'
import { indexMarks } from '@/render/geometry/pick'
import { contains } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'

/** Numbers from a seed, evenly from 0 to 1 (Park and Miller 1988). */
function draws(seed: number): () => number {
  let state = (seed * 7919 + 1) % 2147483647
  return () => {
    state = (state * 48271) % 2147483647
    return state / 2147483647
  }
}

const CATEGORIES = ['wax', 'film', 'bare']

function figureFrom(seed: number): RenderedFigure {
  const draw = draws(seed)
  const maybe = (share: number): boolean => draw() < share
  const count = 1 + Math.floor(draw() * 60)
  const positive = maybe(0.4)
  const scale = 10 ** Math.floor(draw() * 7 - 3)
  const offset = positive ? 0 : maybe(0.3) ? 2031 : 0
  const value = (): number =>
    // Some values repeat, so that marks share places.
    (maybe(0.3) ? Math.floor(draw() * 5) + 1 : draw() * 10 + 0.01) * scale + offset
  const x = Float64Array.from({ length: count }, value)
  const y = Float64Array.from({ length: count }, value)
  const row = Uint32Array.from({ length: count }, (_, i) => i * 3 + Math.floor(draw() * 3))
  const hasSize = maybe(0.5)
  const hasColour = maybe(0.6)
  const size = hasSize
    ? Float64Array.from({ length: count }, () => (maybe(0.1) ? NaN : draw() * 90 - 5))
    : null
  const colour = hasColour
    ? Uint16Array.from({ length: count }, () => Math.floor(draw() * CATEGORIES.length))
    : null
  const marks: Marks = {
    row,
    x,
    y,
    aside: Uint8Array.from({ length: count }, () => (maybe(0.1) ? 1 : 0)),
    ...NO_MARKS,
    size,
    colour,
  }
  const document: FigureDocument = blankDocument('t', 'dose', 'shed')
  if (hasSize) document.size = { ...blankSize('mass'), largest: 8 + draw() * 60 }
  if (hasColour) {
    document.colour = blankColour('coating')
    document.marks.front = maybe(0.5) ? [CATEGORIES[Math.floor(draw() * 3)]] : []
    if (maybe(0.3)) document.marks.each = { film: { colour: null, shape: 'star', size: 2 } }
  }
  if (maybe(0.4))
    document.singled_out = [
      {
        rows: [row[Math.floor(draw() * count)]],
        colour: '#b270f9',
        shape: null,
        size: 2,
        name: null,
      },
    ]
  for (const side of ['x', 'y'] as const) {
    document.axes[side].reversed = maybe(0.2)
    if (positive && maybe(0.4)) document.axes[side].scale = maybe(0.5) ? 'log' : 'sqrt'
  }
  if (maybe(0.4)) document.names = blankNames('station', 'all')
  const ends = (values: Float64Array): [number, number] => [
    Math.min(...values),
    Math.max(...values),
  ]
  const answer: Answer = {
    ...blankAnswer(axisAnswer('Dose', ...ends(x)), axisAnswer('Shed', ...ends(y)), count),
    names: document.names
      ? { rows: [...row].slice(0, 12), texts: [...row].slice(0, 12).map((r) => `S${r}`) }
      : null,
    size: size && {
      variable: words('Mass'),
      low: 0.1,
      high: 90,
      non_positive: 0,
      missing: 0,
    },
    colour: colour && {
      variable: words('Coating'),
      scale: 'category',
      categories: CATEGORIES,
      values: CATEGORIES,
      turns: [0, 1, 2],
      colours: [null, null, null],
      shown: [true, true, true],
      low: null,
      high: null,
      missing: 0,
    },
  }
  return { document, answer, marks }
}

const SEEDS = Array.from({ length: 150 }, (_, seed) => seed + 1)

const made = (seed: number): { figure: RenderedFigure; layout: Layout } => {
  const figure = figureFrom(seed)
  return { figure, layout: layoutFigure(figure, measure) }
}

/** Whether a row's own values put it at a place; places are kept with seven digits. */
function standsThere(
  { marks }: RenderedFigure,
  layout: Layout,
  source: number,
  x: number,
  y: number,
) {
  expect(x).toBeCloseTo(layout.x.toPage(marks.x[source]), 2)
  expect(y).toBeCloseTo(layout.y.toPage(marks.y[source]), 2)
}

describe('random figures', () => {
  it.each(SEEDS)('have under every mark the row that stands there (%i)', (seed) => {
    const { figure, layout } = made(seed)
    const { x, y, clip } = layout.marks
    const index = indexMarks(x, y, clip, layout.radius)
    const drawn = new Set<number>()
    for (let place = 0; place < x.length; place++) {
      standsThere(figure, layout, layout.source[place], x[place], y[place])
      drawn.add(layout.source[place])
      // By the arrow keys, which know the mark …
      const known = hoverAt(layout, index, figure, x[place], y[place], place)
      expect(known).toMatchObject({
        kind: 'mark',
        source: layout.source[place],
        row: figure.marks.row[layout.source[place]],
      })
      // … and by the pointer, which finds one of those that reach so far.
      const found = hoverAt(layout, index, figure, x[place], y[place])
      if (found?.kind !== 'mark') throw new Error('nothing under a mark')
      standsThere(figure, layout, found.source, found.x, found.y)
      expect(found.row).toBe(figure.marks.row[found.source])
      expect(Math.hypot(found.x - x[place], found.y - y[place])).toBeLessThanOrEqual(
        Math.max(5, found.radius + 0.01),
      )
    }
    // Every mark of the answer is drawn once.
    expect(drawn.size).toBe(figure.marks.x.length)
  })

  it.each(SEEDS)('name, find and select the rows that they show (%i)', (seed) => {
    const { figure, layout } = made(seed)
    const { marks } = figure
    for (const { row } of layout.names) {
      const place = layout.rowPlace(row)
      expect(place).not.toBeNull()
      standsThere(figure, layout, marks.row.indexOf(row), ...place!)
    }
    const { plot } = layout
    const [left, top] = [plot.x + plot.width * 0.2, plot.y + plot.height * 0.1]
    const [right, bottom] = [left + plot.width * 0.5, top + plot.height * 0.6]
    const index = indexMarks(layout.marks.x, layout.marks.y, layout.marks.clip, layout.radius)
    const inside = [...index.inside([left, top, right, top, right, bottom, left, bottom])]
    const rows = new Set(inside.map((drawn) => layout.source[drawn]))
    for (let source = 0; source < marks.x.length; source++) {
      const [px, py] = [layout.x.toPage(marks.x[source]), layout.y.toPage(marks.y[source])]
      const depth = Math.min(px - left, right - px, py - top, bottom - py)
      // On the outline itself either is right.
      if (Math.abs(depth) > 0.01) expect(rows.has(source)).toBe(depth > 0)
    }
  })

  it.each(SEEDS)('are walked through from end to end, each mark once (%i)', (seed) => {
    const { layout } = made(seed)
    const { x, y, clip } = layout.marks
    const seen = new Set<number>()
    let at = -1
    for (;;) {
      const next = nextMark(layout, at, 1, 'x')
      if (next < 0) break
      expect(seen.has(next)).toBe(false)
      if (at >= 0) expect(x[next]).toBeGreaterThanOrEqual(x[at])
      seen.add(next)
      at = next
    }
    const inView = [...x].filter((px, i) => contains(clip, px, y[i]))
    expect(seen.size).toBe(inView.length)
  })

  it.each(SEEDS.slice(0, 60))('are the same after a zoom and back (%i)', (seed) => {
    const { figure, layout } = made(seed)
    const home = homeView(figure)
    const about = {
      x: layout.x.fromPage(layout.plot.x + 40),
      y: layout.y.fromPage(layout.plot.y + 40),
    }
    const near = zoomView(home, layout, about, 0.5)
    if (!near) return
    const zoomed = layoutFigure(figure, measure, near)
    for (let place = 0; place < zoomed.source.length; place++)
      standsThere(
        figure,
        zoomed,
        zoomed.source[place],
        zoomed.marks.x[place],
        zoomed.marks.y[place],
      )
    const back = layoutFigure(figure, measure)
    expect([...back.marks.x]).toEqual([...layout.marks.x])
    expect([...back.source]).toEqual([...layout.source])
    expect(JSON.stringify(back.scene.regions)).toBe(JSON.stringify(layout.scene.regions))
  })
})
