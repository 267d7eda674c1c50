/**
 * A scene: everything on a figure's page, placed. Positions and sizes are points (1/72 inch) from
 * the page's upper left corner; text is measured and wrapped already. Two painters draw it.
 */
import type { Shape } from './shapes'
import type { Run } from './text'

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
  | 'x-axis'
  | 'y-axis'
  | 'marks'
  | 'legend'
  | 'readings'
  | `trend-${number}`
  | `row-${number}`

export interface PathItem {
  kind: 'path'
  part: Part
  /** Corner points, x and y in turn. */
  points: Float64Array
  closed: boolean
  fill?: Colour
  fillOpacity?: number
  stroke?: Colour
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
  weight: 400 | 600
  colour: Colour
  anchor: 'start' | 'middle' | 'end'
  /** Degrees, clockwise, about (x, y). */
  turn: 0 | -90
}

/** How marks of one kind look. */
export interface MarkLook {
  shape: Shape
  /** Diameter of a disc of the same ink. */
  size: number
  colour: Colour
  opacity: number
  hollow: boolean
  /** Width of the hairline of paper colour round each mark; 0 for none. */
  halo: number
}

export interface MarksItem {
  kind: 'marks'
  part: Part
  x: Float32Array
  y: Float32Array
  /** For each mark, its place in `looks`. */
  look: Uint16Array
  looks: readonly MarkLook[]
  paper: Colour
  clip: Box
}

export type Item = PathItem | TextItem | MarksItem

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
}

export const contains = (box: Box, x: number, y: number): boolean =>
  x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height
