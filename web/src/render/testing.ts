/** What tests of figures share: a measure that needs no font, and answers that hold nothing yet. */
import type { Answer, Marks } from '@/api/types'
import type { Measure } from '@/render/text/text'

/** Every letter is half as wide as it is tall. */
export const measure: Measure = (text, size) => text.length * size * 0.5

export const words = (label: string, unit = '', kind: 'number' | 'date' = 'number') => ({
  name: label,
  label,
  in_sentence: label.toLowerCase(),
  unit,
  kind,
})

export const axisAnswer = (
  label: string,
  low: number | null,
  high: number | null,
  unit = '',
): Answer['x'] => ({
  variable: words(label, unit),
  low,
  high,
  mean: null,
  median: null,
  margin: [],
})

/** Columns that only some figures have. */
export const NO_MARKS = {
  colour: null,
  size: null,
  count: null,
  text: null,
  columns: [],
  order: null,
  depth: null,
  group: null,
  x_low: null,
  x_high: null,
  y_low: null,
  y_high: null,
} satisfies Partial<Marks>

export const blankAnswer = (x: Answer['x'], y: Answer['y'], drawn: number): Answer => ({
  table: 'trial',
  x,
  y,
  colour: null,
  size: null,
  names: null,
  markers: null,
  cells: null,
  matrix: null,
  space: null,
  distribution: null,
  counts: { rows: drawn, filtered: 0, drawn, set_aside: 0, not_drawn: [] },
  trends: [],
  slopes: [],
  differences: [],
  association: null,
  cautions: [],
  problems: [],
})
