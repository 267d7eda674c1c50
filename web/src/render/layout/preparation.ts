/**
 * What of a figure stays the same wherever one looks: the looks of its marks, their values with
 * jitter, the ends with which it starts. Each is worked out once for what it depends on, and kept as
 * long as the marks are there.
 */
import { inTurn } from '@/render/geometry/columns'
import type { CellSide, Marks } from '@/api/types'
import { memoizeByDependencies } from '@/lib/lru-cache'
import { jittered } from '@/render/geometry/jitter'
import { transformOf, type ScaleName } from '@/render/geometry/scale'
import { looksOf, type Looks } from '@/render/marks/looks'
import { gathered, type Columns } from '@/render/marks/places'
import type { RenderedFigure } from '@/render/figure'
import { hasManyBars } from '@/render/marks/bars'
import { homeView, type View } from './extents'

export interface Prepared {
  looks: Looks
  columns: Columns
  home: View
}

/** The latest of each answer's marks: an older document over them is not asked for again. */
const kept = new WeakMap<Marks, { figure: RenderedFigure; prepared: Prepared }>()

const same = (a: RenderedFigure, b: RenderedFigure): boolean =>
  a.document === b.document && a.answer === b.answer && (a.only ?? null) === (b.only ?? null)

export function preparedFor(figure: RenderedFigure): Prepared {
  const { document, answer, marks } = figure
  const known = kept.get(marks)
  if (known && same(known.figure, figure)) return known.prepared
  const { width, height } = document.page
  const looks = looksOf(document, answer, marks, width * height * 0.7, figure.only)
  const prepared: Prepared = { looks, columns: columnsOf(figure, looks), home: homeView(figure) }
  kept.set(marks, { figure, prepared })
  return prepared
}

interface Warped {
  u: Float64Array
  v: Float64Array
  off: number
}

const warpedOf = new WeakMap<Marks, { key: string; warped: Warped }>()
const identities = new WeakMap<Marks, Uint32Array>()

const put = memoizeByDependencies<Float64Array | Uint16Array, Float64Array | Uint16Array>()

/** A column in another order: the same one as long as both are the same. */
function inThat<Column extends Float64Array | Uint16Array>(
  column: Column,
  order: Uint32Array,
): Column {
  return put(column, [order], () => gathered(column, order)) as Column
}

function columnsOf(figure: RenderedFigure, looks: Looks): Columns {
  const { document, answer, marks } = figure
  const { axes } = document
  // Cells stand where they stand: jitter is of rows.
  const jitter = marks.count ? { x: 0, y: 0 } : document.jitter
  const key = JSON.stringify([axes.x.scale, axes.y.scale, jitter.x, jitter.y])
  let found = warpedOf.get(marks)
  if (found?.key !== key) {
    found = {
      key,
      warped: warped(
        [jittered(marks.x, marks.row, jitter.x, 1), axes.x.scale],
        [jittered(marks.y, marks.row, jitter.y, 2), axes.y.scale],
      ),
    }
    warpedOf.set(marks, found)
  }
  const { u, v, off } = found.warped
  const { order, of } = looks
  const bars = barsOf(figure, order)
  const width = ({ low, high, count }: CellSide): number => (high - low) / count
  const cells = marks.count &&
    answer.cells && {
      counts: order ? inThat(marks.count, order) : marks.count,
      across: width(answer.cells.across),
      up: width(answer.cells.up),
    }
  if (order)
    return {
      u,
      v,
      off,
      bars,
      of: marks,
      cells: cells ?? undefined,
      source: order,
      drawn: { u: inThat(u, order), v: inThat(v, order), look: inThat(of, order) },
    }
  let source = identities.get(marks)
  if (!source) {
    source = inTurn(u.length)
    identities.set(marks, source)
  }
  return {
    u,
    v,
    off,
    bars,
    of: marks,
    cells: cells ?? undefined,
    source,
    drawn: { u, v, look: of },
  }
}

const bent = memoizeByDependencies<Float64Array, Float64Array>()

/** Ends of error bars that are drawn with their marks; those that a scale has no place for infinite. */
function barsOf({ document, marks }: RenderedFigure, order: Uint32Array | null): Columns['bars'] {
  if (!hasManyBars(document, marks)) return []
  return (['x', 'y'] as const).flatMap((side) => {
    const scale = document.axes[side].scale
    const { forward, least } = transformOf(scale)
    const made = (values: Float64Array, other: Float64Array): Float64Array =>
      bent(values, [other, scale, order], () => {
        const ends = values.map((v, i) => {
          // Of a bar with one end there is nothing to be drawn.
          if (Number.isNaN(other[i])) return NaN
          return scale !== 'linear' && v < least ? -Infinity : forward(v)
        })
        return order ? gathered(ends, order) : ends
      })
    const [low, high] = [marks[`${side}_low`], marks[`${side}_high`]]
    if (!document.error_bars[side] || !low || !high) return []
    return { side, low: made(low, high), high: made(high, low) }
  })
}

/** Values bent as their scales are; those that either scale has no place for have none on both. */
function warped(...sides: [values: Float64Array, scale: ScaleName][]): Warped {
  if (sides.every(([, scale]) => scale === 'linear'))
    return { u: sides[0][0], v: sides[1][0], off: 0 }
  const [u, v] = sides.map(([values, scale]) => {
    const { forward, least } = transformOf(scale)
    const bent = new Float64Array(values.length)
    for (let i = 0; i < bent.length; i++)
      bent[i] = scale !== 'linear' && values[i] < least ? NaN : forward(values[i])
    return bent
  })
  let off = 0
  for (let i = 0; i < u.length; i++)
    if (Number.isNaN(u[i]) || Number.isNaN(v[i])) {
      off++
      u[i] = v[i] = NaN
    }
  return { u, v, off }
}
