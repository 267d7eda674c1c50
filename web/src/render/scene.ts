/**
 * A scene: everything on a figure's page, placed. Positions and sizes are points (1/72 inch) from
 * the page's upper left corner; text is measured and wrapped already. Two painters draw it.
 */
import type { AffineMap } from '@/render/geometry/scale'
import type { Shape } from '@/render/marks/shapes'
import type { Face, Run, Weight } from '@/render/text/text'

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

export type Colour = readonly [red: number, green: number, blue: number]

/** What a thing on the page belongs to: what is tuned when it is clicked. */
export type Part =
  | 'ground'
  | 'title'
  | 'subtitle'
  | 'caption'
  | 'names'
  | 'sizes'
  | 'x-axis'
  | 'y-axis'
  | 'depth-axis'
  | 'space'
  | 'plane'
  | 'distribution'
  | 'marks'
  | 'legend'
  | 'readings'
  | 'matrix'
  | `trend-${number}`
  | `row-${number}`
  | `reference-${number}`
  | `note-${number}`
  | `read-${number}-${number}`

export interface PathItem {
  kind: 'path'
  part: Part
  /** Corner points, x and y in turn. */
  points: Float64Array
  closed: boolean
  fill?: Colour
  fillOpacity?: number
  stroke?: Colour
  strokeOpacity?: number
  width?: number
  dash?: readonly number[]
  clip?: Box
}

export interface TextItem {
  kind: 'text'
  part: Part
  /** Where the baseline starts, is centred or ends. */
  x: number
  y: number
  runs: readonly Run[]
  size: number
  weight: Weight
  face: Face
  colour: Colour
  anchor: 'start' | 'middle' | 'end'
  /** Degrees, clockwise, about (x, y). */
  turn: 0 | -45 | -90
}

/** How marks of one kind look. */
export interface MarkLook {
  shape: Shape
  /** Diameter of a disc of the same ink. */
  size: number
  colour: Colour
  opacity: number
  hollow: boolean
  /** Width of the line round each mark; 0 for none. */
  halo: number
  /** Colour of that line; the paper's where null. */
  edge: Colour | null
}

/** Marks before they are laid on a page: what stays as it is while the view moves. */
export interface MarkColumns {
  /** Warped values across and up, in the order in which marks are drawn. */
  u: Float64Array
  v: Float64Array
  across: AffineMap
  up: AffineMap
  /** What they are of: told apart, and not looked into. */
  of: object
}

/** Marks that are cells: how many rows lie in each, and how large they are on the page. */
export interface Cells {
  /** In the order in which marks are drawn. */
  counts: Float64Array
  width: number
  height: number
}

/** Error bars of very many marks: drawn with them, where few are lines of their own. */
export interface MarkBars {
  /** Along which axis they lie. */
  side: 'x' | 'y'
  /** Where they end on the page, in the order in which marks are drawn; NaN where there is none. */
  low: Float32Array
  high: Float32Array
  /** What these come from: warped values, infinite where an axis has no place for them. */
  columns: { low: Float64Array; high: Float64Array }
  /** How long caps are, and how thick lines, in points. */
  cap: number
  width: number
}

export interface MarksItem {
  kind: 'marks'
  part: Part
  x: Float32Array
  y: Float32Array
  /** What the places come from, where they are many: they are then laid when they are asked for. */
  columns?: MarkColumns
  /** For each mark, its place in `looks`. */
  look: Uint16Array
  looks: readonly MarkLook[]
  paper: Colour
  clip: Box
  /** Whether they are shaded by how many share a place, and not drawn one by one. */
  density: boolean
  /** Where each mark is a cell; its place is the cell's middle. */
  cells?: Cells
  /** Error bars under the marks. */
  bars?: readonly MarkBars[]
}

/** Many straight lines of one look, each from one place to another. */
export interface SegmentsItem {
  kind: 'segments'
  part: Part
  /** Four numbers each: from x and y, to x and y. */
  points: Float64Array
  stroke: Colour
  opacity: number
  width: number
  clip?: Box
}

export type Item = PathItem | TextItem | MarksItem | SegmentsItem

/** A region that stands for a part, for the pointer. */
export interface Region {
  part: Part
  box: Box
}

export interface Scene {
  width: number
  height: number
  paper: Colour
  items: readonly Item[]
  regions: readonly Region[]
  /** Whether some marks are left out while something is moved. */
  isRough?: boolean
}

export const contains = (box: Box, x: number, y: number): boolean =>
  x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height
