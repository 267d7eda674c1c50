/** Parts of a document as they begin: the defaults of the server's models. */
import type { FigureDocument, Lettering, OwnLook, PlateDocument, Trend } from './types'

type Part<Name extends keyof FigureDocument> = NonNullable<FigureDocument[Name]>

export const blankAxis = (): FigureDocument['axes']['x'] => ({
  title: null,
  low: null,
  high: null,
  scale: 'linear',
  base: 10,
  reversed: false,
  step: null,
  positions: [],
  ticks: 'out',
  small_ticks: 0,
  digits: null,
  prefix: '',
  suffix: '',
  labels: 'auto',
  grid: 'none',
  crosses: null,
  width: 1,
  colour: '#1d2b2a',
})

export const blankColour = (
  variable: string,
  scale: Part<'colour'>['scale'] = null,
): Part<'colour'> => ({
  variable,
  scale,
  ramp: 'dew',
  reversed: false,
  low: null,
  middle: null,
  high: null,
  steps: null,
})

export const blankSize = (variable: string): Part<'size'> => ({
  variable,
  influence: false,
  measure: 'area',
  start: 'zero',
  largest: 34,
})

export const blankNames = (variable: string, show: Part<'names'>['show']): Part<'names'> => ({
  variable,
  show,
  count: 10,
  rows: [],
  size: 11,
  moved: {},
})

export const blankBar = (): NonNullable<FigureDocument['error_bars']['y']> => ({
  kind: 'share',
  below: null,
  above: null,
  amount: 0.05,
  cap: 6,
  width: 1,
})

export const blankConnect = (): Part<'connect'> => ({
  order: 'x',
  variable: null,
  line: 'straight',
  width: 1.5,
})

export const blankForm = (): Trend['form'] => ({
  degree: 2,
  intercept: null,
  scatter: 'multiplicative',
  lower: null,
  upper: null,
  span: 0.5,
  bend: 1,
  passes: 2,
  penalty: null,
  window: 7,
  window_unit: 'rows',
  alignment: 'centred',
})

/** A trend as it begins: a band is drawn about it where its family has one. */
export const blankTrend = (family: string, by: string | null): Trend => ({
  family,
  form: blankForm(),
  by,
  level: 0.95,
  bands: WITHOUT_BAND.includes(family) ? [] : [{ kind: 'confidence', level: 0.95 }],
  weights: null,
  weights_are: 'weights',
  carry: { before: 0, after: 0 },
  read_off: [],
  on_figure: [],
  letters: 'x',
  digits: null,
  colour: null,
  width: 2,
  dash: 'solid',
})

/** Families that have no band, or draw one only where it is asked for. */
const WITHOUT_BAND: readonly string[] = ['moving-average', 'resistant', 'balanced']

/** Gives a trend another family: bands go where it has none, and come back where it has. */
export function setFamily(trend: Trend, family: string): void {
  const hadBand = !WITHOUT_BAND.includes(trend.family)
  trend.family = family
  if (WITHOUT_BAND.includes(family)) trend.bands = []
  else if (!hadBand) trend.bands = [{ kind: 'confidence', level: trend.level }]
}

export const blankMatrix = (variables: string[]): Part<'matrix'> => ({
  variables,
  order: 'own',
  below: 'points',
  above: 'r',
  diagonal: 'histogram',
  names: true,
  trend: blankTrend('straight', null),
  r_as: 'number',
  missing: 'pairwise',
  axes: 'outer',
})

export const blankLettering = (): Lettering => ({
  size: 1,
  face: 'sans',
  weight: null,
  colour: null,
})

export const blankOwnLook = (): OwnLook => ({ colour: null, shape: null, size: 1 })

export const blankReference = (): FigureDocument['references'][number] => ({
  axis: 'y',
  at: 'mean',
  value: null,
  high: null,
  label: null,
  dashed: true,
})

/** A whole document but for what it shows. */
export const blankDocument = (table: string, x: string, y: string): FigureDocument => ({
  version: 1,
  kind: 'scatterplot',
  name: null,
  table,
  x,
  y: [y],
  matrix: null,
  colour: null,
  size: null,
  names: null,
  error_bars: { x: null, y: null },
  connect: null,
  jitter: { x: 0, y: 0 },
  margins: { x: 'none', y: 'none' },
  trends: [],
  readings: { place: 'auto', x: 0, y: 0, association: [] },
  rows: null,
  set_aside: [],
  singled_out: [],
  references: [],
  notes: [],
  title: null,
  subtitle: null,
  caption: null,
  caption_below: true,
  axes: { x: blankAxis(), y: blankAxis(), frame: 'range', equal: false },
  marks: {
    shape: 'disc',
    size: 6,
    opacity: null,
    colour: null,
    hollow: false,
    outline: null,
    density: 'auto',
    text: null,
    each: {},
    front: [],
  },
  legend: { place: 'auto', x: 0, y: 0, title: null, renamed: {}, hidden: [], order: [] },
  type: { scale: 1, parts: {} },
  page: { venue: 'screen', width: 720, height: 610, background: '#ffffff', frame: null },
})

const MOST_A_ROW = 4

/** A plate of several figures, about as wide as it is high. */
export function blankPlate(cells: PlateDocument['cells'], one: boolean): PlateDocument {
  const count = cells.length
  const columns = count <= 3 ? count : Math.min(MOST_A_ROW, Math.ceil(Math.sqrt(count)))
  const rows = Math.ceil(count / columns)
  return {
    version: 1,
    name: null,
    cells,
    columns,
    widths: [],
    heights: [],
    letters: 'a',
    shared: one ? 'both' : 'none',
    legend: 'shared',
    look: 'own',
    text: 0.85,
    ink: 0.85,
    gap: 10,
    title: null,
    caption: null,
    page: {
      venue: 'own',
      width: columns === 1 ? 560 : Math.min(1100, 120 + 330 * columns),
      height: Math.min(1400, 60 + 320 * rows),
      background: '#ffffff',
      frame: null,
    },
  }
}
