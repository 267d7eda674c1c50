/** Where marks stand on the page, in the order in which they are drawn. */
import type { FigureDocument } from '@/api/types'
import type { Round } from '@/render/geometry/mark-index'
import { around, sorted, type Sorted } from '@/render/geometry/pairs'
import type { AffineMap, Scale } from '@/render/geometry/scale'
import { memoizeByDependencies } from '@/lib/lru-cache'
import type { Box, MarkBars, MarkColumns, MarkLook, MarksItem } from '@/render/scene'
import { MANY } from './crowding'
import type { Looks } from './looks'

/** Marks as they are laid out everywhere: in their own order, and in that in which they are drawn. */
export interface Columns {
  /** Warped values in the answer's order; NaN where a scale has no place. */
  u: Float64Array
  v: Float64Array
  /** The same, and the looks, in the order in which marks are drawn; the very same where that is one. */
  drawn: { u: Float64Array; v: Float64Array; look: Uint16Array }
  /** For each drawn mark, its place among the answer's marks. */
  source: Uint32Array
  /** Marks that an axis has no place for. */
  off: number
  /** The answer's marks. */
  of: object
  /** Ends of the error bars of very many marks, warped, in the order in which marks are drawn. */
  bars: { side: 'x' | 'y'; low: Float64Array; high: Float64Array }[]
  /** Where marks are cells: how many rows lie in each drawn one, and how wide they are, warped. */
  cells?: { counts: Float64Array; across: number; up: number }
}

export interface PlacedMarks {
  item: MarksItem
  source: Uint32Array
  radius: (drawn: number) => number
  /** Places of all the answer's marks in their own order. */
  all: { x: Float32Array; y: Float32Array }
  off: number
}

/** The largest radius that marks are drawn with. */
export const widestOf = ({ looks }: Pick<MarksItem, 'looks'>): number =>
  looks.reduce((most, { size }) => Math.max(most, size / 2), 0)

/** A bubble is drawn in the next of some sizes: it is itself larger by less than this. */
const STEP = 1

/** Where nothing is drawn and no pointer comes. */
export const OFF_THE_PAGE = -1e6

/** The latest places of each column of values: much asks for those of what is seen. */
const latest = new WeakMap<Float64Array, { laying: AffineMap; places: Float32Array }>()

const isSame = (a: AffineMap, b: AffineMap): boolean =>
  a.from === b.from && a.factor === b.factor && a.start === b.start

/** Notes where values lie on the page, where that was worked out elsewhere. */
export const keepLaid = (values: Float64Array, laying: AffineMap, places: Float32Array): unknown =>
  latest.set(values, { laying, places })

function known(values: Float64Array, laying: AffineMap): Float32Array {
  const found = latest.get(values)
  if (found && isSame(found.laying, laying)) return found.places
  const places = laid(values, laying)
  keepLaid(values, laying, places)
  return places
}

/** A column in another order. */
export function gathered<Column extends Float64Array | Uint16Array>(
  column: Column,
  order: Uint32Array,
): Column {
  const made = new (column.constructor as new (length: number) => Column)(order.length)
  for (let i = 0; i < order.length; i++) made[i] = column[order[i]]
  return made
}

/** How a scale lays what it warped. */
export const layingOf = ({ from, factor, start }: Scale): AffineMap => ({ from, factor, start })

/** Lays warped values on the page. */
export function laid(values: Float64Array, { from, factor, start }: AffineMap): Float32Array {
  const places = new Float32Array(values.length)
  for (let i = 0; i < places.length; i++) {
    const value = values[i]
    places[i] = value === value ? start + (value - from) * factor : OFF_THE_PAGE
  }
  return places
}

/** Marks as words keep clear of them: of very many, those that are near are found without laying all. */
export function roundOf({ item, radius }: PlacedMarks): Round {
  const common = { radius, widest: widestOf(item) + STEP }
  if (!item.columns) return { u: item.x, v: item.y, across: IDENTITY, down: IDENTITY, ...common }
  const { u, v, across, up } = item.columns
  return {
    u,
    v,
    across,
    down: up,
    among: (boxes) =>
      around(
        sortedOnce(u, [v], () => sorted(u, v)),
        boxes,
      ),
    ...common,
  }
}

const sortedOnce = memoizeByDependencies<Float64Array, Sorted>()

/** A pair of places that are worked out when the first of them is asked for. */
export function laidLater({ u, v, across, up }: Omit<MarkColumns, 'of'>): {
  x: Float32Array
  y: Float32Array
} {
  let x: Float32Array | null = null
  let y: Float32Array | null = null
  return {
    get x() {
      return (x ??= known(u, across))
    },
    get y() {
      return (y ??= known(v, up))
    },
  }
}

/** Marks whose places are laid when something asks for them. */
export function marksFrom(
  columns: MarkColumns,
  how: Omit<MarksItem, 'kind' | 'part' | 'x' | 'y' | 'columns'>,
  places = laidLater(columns),
): MarksItem {
  return {
    kind: 'marks',
    part: 'marks',
    get x() {
      return places.x
    },
    get y() {
      return places.y
    },
    columns,
    ...how,
  }
}

const IDENTITY: AffineMap = { from: 0, factor: 1, start: 0 }
/** Above so many marks a worker draws them. */
const FEW = 8_000

/** Marks that were put on the page one by one, in the order in which they are drawn. */
export interface PutMarks {
  x: Float64Array
  y: Float64Array
  look: Uint16Array
  looks: readonly MarkLook[]
  source: Uint32Array
  /** How many marks the answer has. */
  count: number
  off: number
  /** Whether some are left out for the moment. */
  isRough?: boolean
}

/** The item of marks that were put on the page, and what is asked of it. */
export function placedAt(put: PutMarks, clip: Box, paper: MarksItem['paper']): PlacedMarks {
  const { x, y, look, source, count, off } = put
  const looks = put.looks.slice()
  const how = { look, looks, paper, clip, density: false }
  // Told apart from any other view: the picture of one does not stand in for another.
  const columns = { u: x, v: y, across: IDENTITY, up: IDENTITY, of: {} }
  const item: MarksItem =
    x.length > FEW && !put.isRough
      ? marksFrom(columns, how)
      : { kind: 'marks', part: 'marks', x: Float32Array.from(x), y: Float32Array.from(y), ...how }
  const inOrder = (places: Float32Array): Float32Array => {
    const out = new Float32Array(count).fill(OFF_THE_PAGE)
    for (let k = 0; k < places.length; k++) out[source[k]] = places[k]
    return out
  }
  return {
    item,
    source,
    radius: (drawn) => looks[look[drawn]].size / 2,
    all: {
      get x() {
        return inOrder(item.x)
      },
      get y() {
        return inOrder(item.y)
      },
    },
    off,
  }
}

/** Error bars whose places are laid when something asks for them. */
export const laidBars = (
  bars: readonly Omit<MarkBars, 'low' | 'high'>[],
  across: AffineMap,
  up: AffineMap,
): MarkBars[] =>
  bars.map(({ side, cap, width, columns }) => {
    const along = side === 'x' ? across : up
    return {
      side,
      cap,
      width,
      columns,
      get low() {
        return known(columns.low, along)
      },
      get high() {
        return known(columns.high, along)
      },
    }
  })

function penOf({ error_bars }: FigureDocument, side: 'x' | 'y'): { cap: number; width: number } {
  const { cap, width } = error_bars[side]!
  return { cap, width }
}

/** Puts the marks in their places, in the order in which they are drawn. */
export function placeMarks(
  document: FigureDocument,
  columns: Columns,
  looks: Looks,
  x: Scale,
  y: Scale,
  clip: Box,
  paper: MarksItem['paper'],
): PlacedMarks {
  const { u, v, drawn, source, off, cells, bars } = columns
  const [across, up] = [x, y].map(layingOf)
  const from = { u: drawn.u, v: drawn.v, across, up, of: columns.of }
  const all = laidLater({ u, v, across, up })
  const how = {
    look: drawn.look,
    looks: looks.looks,
    paper,
    clip,
    density: cells !== undefined || isShaded(document, drawn, across, up, clip),
    cells: cells && {
      counts: cells.counts,
      width: Math.abs(cells.across * across.factor),
      height: Math.abs(cells.up * up.factor),
    },
    bars: laidBars(
      bars.map(({ side, ...columns }) => ({ side, ...penOf(document, side), columns })),
      across,
      up,
    ),
  }
  const item = marksFrom(from, how, drawn.u === u ? all : undefined)
  return {
    item,
    source,
    radius: (drawn) =>
      (looks.sizes ? looks.sizes[source[drawn]] : looks.looks[looks.of[source[drawn]]].size) / 2,
    all,
    off,
  }
}

function isShaded(
  { marks: { density } }: FigureDocument,
  { u, v }: { u: Float64Array; v: Float64Array },
  across: AffineMap,
  up: AffineMap,
  clip: Box,
): boolean {
  if (density !== 'auto' || u.length <= MANY) return density === 'on'
  const [left, right] = ends(across, clip.x, clip.x + clip.width)
  const [low, high] = ends(up, clip.y, clip.y + clip.height)
  let count = 0
  for (let i = 0; i < u.length; i++)
    if (u[i] >= left && u[i] <= right && v[i] >= low && v[i] <= high) count++
  return count > MANY
}

/** The warped values that lie at two places of the page. */
function ends({ from, factor, start }: AffineMap, ...places: [number, number]): [number, number] {
  const [a, b] = places.map((place) => from + (place - start) / factor)
  return a < b ? [a, b] : [b, a]
}
