/** What can stand in each part of the statement. */
import type { FigureDocument, Trend, VariableSummary } from '@/api/types'
import { levelText } from '@/render/text/numbers'
import { offeredFamilies, trendLabel } from '@/figure-model/families'
import { inSentence, KIND_SIGNS, onAxis } from '@/figure-model/words'

export interface Option<Value> {
  label: string
  value: Value
  sign?: string
  note?: string
}

/** At most so many categories can be told apart. */
const MOST_GROUPS = 48
/** Whole numbers with at most so many values may be codes of groups. */
const MOST_CODES = 12

const variableOption = (v: VariableSummary): Option<string> => ({
  label: v.label,
  value: v.name,
  sign: KIND_SIGNS[v.kind],
  note: v.unit,
})

/** Whether a variable has so few values; not where they are not counted. */
const isFew = ({ distinct }: VariableSummary, most: number): boolean =>
  distinct !== null && distinct <= most

export const axisOptions = (variables: VariableSummary[]): Option<string>[] =>
  variables.filter(onAxis).map(variableOption)

/** What can stand in a matrix: numbers and dates, and categories as strips. */
export const matrixOptions = (variables: VariableSummary[]): Option<string>[] =>
  variables
    .filter((v) => onAxis(v) || (v.kind === 'category' && isFew(v, MOST_GROUPS)))
    .map(variableOption)

export const colourOptions = (variables: VariableSummary[]): Option<string | null>[] => [
  ...variables.filter((v) => onAxis(v) || isFew(v, MOST_GROUPS)).map(variableOption),
  { label: 'no colour', value: null },
]

const NONE = (label: string): Option<null> => ({ label, value: null })

/** Another variable going up: numbers beside numbers, dates beside dates. */
export const upOptions = (variables: VariableSummary[], taken: string[]): Option<string>[] => {
  const kind = variables.find(({ name }) => name === taken[0])?.kind
  return axisOptions(variables.filter((v) => v.kind === kind && !taken.includes(v.name)))
}

export const sizeOptions = (variables: VariableSummary[]): Option<string | null>[] => [
  ...variables.filter(({ kind }) => kind === 'number').map(variableOption),
  NONE('all of one size'),
]

export const nameOptions = (variables: VariableSummary[]): Option<string | null>[] => [
  ...[...variables].sort((a, b) => Number(onAxis(a)) - Number(onAxis(b))).map(variableOption),
  NONE('no names'),
]

/** Whether a number can be read as a category for colours. */
export const canBeEither = (v: VariableSummary | null): boolean =>
  v?.kind === 'number' && isFew(v, MOST_GROUPS)

/** Families of trends as they read in a sentence, and what each is good for. */
/** Families that a figure has what they need for: error bars on both axes, for one of them. */
export const familyOptions = (document: FigureDocument): Option<string | null>[] => [
  ...offeredFamilies(document).map(({ name, label, note }) => ({
    label,
    value: name,
    ...(note && { note }),
  })),
  NONE('no trend'),
]

/** For the whole, or for each value of a variable that tells groups apart. */
export function byOptions(
  variables: VariableSummary[],
  colour: FigureDocument['colour'],
): Option<string | null>[] {
  const groups = variables.filter(
    (v) =>
      v.kind === 'category' ||
      (v.kind === 'text' && isFew(v, MOST_GROUPS)) ||
      (v.kind === 'number' && isFew(v, MOST_CODES)) ||
      (v.name === colour?.variable && colour.scale === 'category'),
  )
  return [
    { label: 'all rows', value: null },
    ...groups.map((v) => ({
      label: `each ${inSentence(v)}`,
      value: v.name,
      sign: KIND_SIGNS[v.kind],
    })),
  ]
}

type Matrix = NonNullable<FigureDocument['matrix']>

/** What a region of a matrix beside its diagonal can show. */
export const ABOVE_BELOW: Option<Matrix['below']>[] = [
  { label: 'points', value: 'points' },
  { label: 'points with a trend', value: 'trend' },
  { label: 'density contours', value: 'contours' },
  { label: 'shaded counts', value: 'counts' },
  { label: 'r', value: 'r' },
  { label: 'nothing', value: 'nothing' },
]

export const DIAGONALS: Option<Matrix['diagonal']>[] = [
  { label: 'histogram', value: 'histogram' },
  { label: 'density curve', value: 'density' },
  { label: 'histogram and density', value: 'both' },
  { label: 'names only', value: 'nothing' },
]

/** A region's content as it reads in the statement. */
export function regionLabel(matrix: Matrix, region: 'above' | 'below'): string {
  const content = matrix[region]
  if (content === 'trend') return `points with a ${trendLabel(matrix.trend)}`
  return ABOVE_BELOW.find(({ value }) => value === content)!.label
}

export type Bands = Trend['bands']

const LEVELS = [0.5, 0.8, 0.9, 0.95, 0.99, 0.999]

const one = (level: number, kind: Bands[number]['kind'] = 'confidence'): Bands => [{ kind, level }]

export function bandLabel(bands: Bands): string {
  if (!bands.length) return 'no band'
  const of = (kind: Bands[number]['kind'], name: string): string[] => {
    const levels = bands.filter((band) => band.kind === kind).map(({ level }) => levelText(level))
    if (!levels.length) return []
    const bare = levels.slice(0, -1).map((text) => text.replace(/\s*%/, ''))
    return [
      bare.length
        ? `${bare.join(', ')} and ${levels[levels.length - 1]} ${name.replace('band', 'bands')}`
        : `${levels[0]} ${name}`,
    ]
  }
  return [
    ...of('confidence', 'band'),
    ...of('whole line', 'simultaneous band'),
    ...of('prediction', 'prediction band'),
  ].join(' and ')
}

const nested = (...levels: number[]): Bands =>
  levels.map((level) => ({ kind: 'confidence', level }))

export const bandOptions: Option<Bands>[] = [
  { value: [] as Bands },
  ...LEVELS.map((level) => ({ value: one(level) })),
  { value: one(0.95, 'whole line') },
  { value: one(0.95, 'prediction') },
  { value: [...one(0.95), ...one(0.95, 'prediction')] },
  { value: nested(0.9, 0.95, 0.99) },
].map(({ value }) => ({ label: bandLabel(value), value }))

/** Levels typed in percent, or as shares: "90", "0.99 pred", "90 95 99". */
export function typedBand(text: string): Option<Bands> | null {
  const kind = text.includes('pred')
    ? 'prediction'
    : /whole|simul/.test(text)
      ? 'whole line'
      : 'confidence'
  const levels = (text.replace(/,(?=\d{1,2}\b)/g, ' ').match(/\d+(\.\d+)?/g) ?? [])
    .map(Number)
    .map((number) => (number > 1 ? number / 100 : number))
  if (!levels.length || levels.length > 4) return null
  if (levels.some((level) => !(level >= 0.5 && level <= 0.999))) return null
  const value = levels.map((level) => ({ kind, level }) satisfies Bands[number])
  return { label: bandLabel(value), value }
}
