/** What can stand in each part of the statement. */
import type { FigureDocument, Trend, VariableSummary } from '@/api/types'
import { levelText } from '@/drawing/numbers'
import { inSentence, KIND_SIGNS, onAxis } from '@/words'

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

export const axisOptions = (variables: VariableSummary[]): Option<string>[] =>
  variables.filter(onAxis).map(variableOption)

export const colourOptions = (variables: VariableSummary[]): Option<string | null>[] => [
  ...variables.filter((v) => onAxis(v) || v.distinct <= MOST_GROUPS).map(variableOption),
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
  v?.kind === 'number' && v.distinct <= MOST_GROUPS

export const FAMILIES: Option<string | null>[] = [
  { label: 'straight line', value: 'straight' },
  { label: 'straight line through the origin', value: 'origin' },
  { label: 'no trend', value: null },
]

export const familyLabel = (family: string): string =>
  FAMILIES.find(({ value }) => value === family)?.label ?? family

/** For the whole, or for each value of a variable that tells groups apart. */
export function byOptions(
  variables: VariableSummary[],
  colour: FigureDocument['colour'],
): Option<string | null>[] {
  const groups = variables.filter(
    (v) =>
      v.kind === 'category' ||
      (v.kind === 'text' && v.distinct <= MOST_GROUPS) ||
      (v.kind === 'number' && v.distinct <= MOST_CODES) ||
      (v.name === colour?.variable && colour.scale === 'category'),
  )
  return [
    { label: 'the whole', value: null },
    ...groups.map((v) => ({
      label: `each ${inSentence(v)}`,
      value: v.name,
      sign: KIND_SIGNS[v.kind],
    })),
  ]
}

export type Bands = Trend['bands']

const LEVELS = [0.5, 0.8, 0.9, 0.95, 0.99, 0.999]

const one = (level: number, kind: Bands[number]['kind'] = 'confidence'): Bands => [{ kind, level }]

export function bandLabel(bands: Bands): string {
  if (!bands.length) return 'no band'
  return bands
    .map(
      ({ kind, level }) =>
        `${levelText(level)} ${kind === 'prediction' ? 'prediction band' : 'band'}`,
    )
    .join(' and ')
}

export const bandOptions: Option<Bands>[] = [
  { value: [] as Bands },
  ...LEVELS.map((level) => ({ value: one(level) })),
  { value: one(0.95, 'prediction') },
  { value: [...one(0.95), ...one(0.95, 'prediction')] },
].map(({ value }) => ({ label: bandLabel(value), value }))

/** A level typed in percent, or as a share. */
export function typedBand(text: string): Option<Bands> | null {
  const number = Number(text.replace(/%|band/g, '').trim())
  const level = number > 1 ? number / 100 : number
  if (!(level >= 0.5 && level <= 0.999)) return null
  const value = one(level, text.includes('pred') ? 'prediction' : 'confidence')
  return { label: bandLabel(value), value }
}
