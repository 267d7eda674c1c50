/** Wishes that name a number, a colour or a category: carried out as they were said, once chosen. */
import type { Condition, FigureDocument } from '@/api/types'
import { parsePlace } from '@/figure-model/parse'
import { filterWords } from '@/figure-model/statement/filter-words'
import { change, type Control, type Scope } from '@/figure-model/controls/control'
import type { Entry, Findings } from './types'
import { wanted } from './search'

const COLOURS: Record<string, string> = {
  black: '#000000',
  white: '#ffffff',
  grey: '#808080',
  red: '#cc0000',
  orange: '#e07000',
  yellow: '#e0b000',
  green: '#008000',
  teal: '#008080',
  blue: '#0050c0',
  navy: '#000080',
  purple: '#800080',
  pink: '#d85090',
  brown: '#8b4513',
}

const NUMBERS = 'zero one two three four five six seven eight nine ten'.split(' ')
const NUMBER = /(?<![\p{L}\d.])[-−]?\d+(?:[.,]\d+)?(?!\p{L})/u

/** What a number is of, that a setting does not say. */
const FORECAST = /\b(forecast|extrapolate|extend|predict|project)/i
const KEEPS = /\b(only|just|keep|filter|show)\b/i
const LEAVES = /\b(without|exclude|hide|remove|omit|drop|leave out|except|not)\b/i

/** The number that is said, and the words beside it. */
function numberIn(typed: string): { number: number; rest: string } | null {
  const digits = NUMBER.exec(typed)
  if (digits)
    return {
      number: Number(digits[0].replace('−', '-').replace(',', '.')),
      rest: typed.replace(digits[0], ' '),
    }
  const word = typed
    .toLowerCase()
    .split(/\s+/)
    .find((one) => NUMBERS.includes(one))
  return word ? { number: NUMBERS.indexOf(word), rest: typed.replace(word, ' ') } : null
}

/** What a control becomes with a number; null where it takes none, or not this one. */
function numbered(control: Control, scope: Scope, number: number): unknown {
  switch (control.kind) {
    case 'slider':
      return number >= control.min && number <= control.max ? number : null
    case 'place':
      return control.isDate?.(scope) || control.check?.(number, scope) ? null : number
    case 'text':
      return control.numeric && !control.check?.(String(number), scope) ? String(number) : null
    case 'choice':
      return control.options.find(({ value }) => value === number)?.value ?? null
    case 'select':
      return control.options(scope).find(({ value }) => value === String(number))?.value ?? null
    default:
      return null
  }
}

type Search = (typed: string, most?: number, isWhole?: boolean) => Entry[]

/** Settings that the words may mean, each with what it would become. */
function set(
  { scope, edit }: Findings,
  settings: readonly Entry[],
  valueFor: (control: Control) => unknown,
  said: string,
  most: number,
): Entry[] {
  return settings
    .flatMap((entry): Entry[] => {
      const { control, label, where, why } = entry
      const value = control && !why ? valueFor(control) : null
      if (!control || value === null || value === undefined) return []
      return [
        {
          kind: 'value',
          label: `Set ${label.replace(/, %$/, '')} to ${said}`,
          where,
          does: () => edit(change(control, scope, value)),
        },
      ]
    })
    .slice(0, most)
}

function ofNumber(findings: Findings, typed: string, search: Search): Entry[] {
  const said = numberIn(typed)
  if (!said || !wanted(said.rest).length) return []
  const { number, rest } = said
  const { scope, edit } = findings
  const high = scope.drawn?.answer.x.high
  const isNumber = scope.drawn?.answer.x.variable.kind === 'number'
  if (FORECAST.test(typed) && scope.document.trends.length && isNumber && high != null) {
    if (number <= high) return []
    return [
      {
        kind: 'value',
        label: `Extrapolate the trend to ${number}`,
        where: 'Trend',
        does: () =>
          edit((draft) => {
            for (const trend of draft.trends) trend.carry.after = number - high
          }),
      },
    ]
  }
  const found = search(rest, 12, true)
  const value = (control: Control) => numbered(control, scope, number)
  return set(findings, found, value, String(number), 2)
}

function ofColour(findings: Findings, typed: string, search: Search): Entry[] {
  const words = wanted(typed)
  const name = words.find((word) => word in COLOURS)
  if (!name) return []
  const others = words.filter((word) => word !== name && word !== 'colour')
  if (!others.length) return ofMarks(findings, search, name)
  const found = search(['colour', ...others].join(' '), 8).filter(
    ({ control }) => control?.kind === 'colour',
  )
  return set(findings, found, () => COLOURS[name], name, 1)
}

/** What is given a colour, and nothing besides, are the marks. */
function ofMarks(findings: Findings, search: Search, name: string): Entry[] {
  const marks = search('colour', 60).find(
    ({ label, where, control }) =>
      control?.kind === 'colour' && label === 'Colour' && where === 'Marks',
  )
  if (!marks) return []
  const label = `Set Colour to ${name}`
  return marks.why
    ? [{ kind: 'value', label, where: marks.where, why: marks.why, does: null }]
    : set(findings, [marks], () => COLOURS[name], name, 1)
}

/** Rows of a category that is named, kept or left out. */
function ofCategory({ categories, edit }: Findings, typed: string): Entry[] {
  const isLeft = LEAVES.test(typed)
  if (!isLeft && !KEEPS.test(typed)) return []
  const words = wanted(typed)
  return categories
    .filter(({ label }) => {
      const own = wanted(label)
      return own.length > 0 && own.every((word) => words.includes(word))
    })
    .slice(0, 2)
    .map(({ variable, value, label }) => ({
      kind: 'value',
      label: isLeft ? `Leave out ${label}` : `Show only ${label}`,
      where: 'Filter',
      does: () =>
        edit((draft) => {
          draft.rows = kept(draft, {
            ...blankCondition(variable),
            test: isLeft ? 'not_one_of' : 'one_of',
            values: [value],
          })
        }),
    }))
}

const RANGE = /(?<low>NUM)\s*(?:to|and|–|\.\.\.?|…)\s*(?<high>NUM)/
const EXACTLY = /(?:\bis\b|\bexactly\b|\bequals?\b|=)\s*(?:exactly\s*)?(?<both>NUM)/
const ABOVE =
  /(?:>=?|≥|\babove\b|\bover\b|\bfrom\b|\bat least\b|\bmore than\b|\bafter\b)\s*(?<low>NUM)/
const BELOW =
  /(?:<=?|≤|\bbelow\b|\bunder\b|\bup to\b|\bat most\b|\bless than\b|\bbefore\b)\s*(?<high>NUM)/
const ENDS = [RANGE, EXACTLY, ABOVE, BELOW].map(
  ({ source }) => new RegExp(source.replaceAll('NUM', '[-−]?\\d+(?:[.,]\\d+)?'), 'iu'),
)

/** The ends of the range of values that words ask for; null where they ask for none. */
function endsIn(typed: string): { low: number | null; high: number | null } | null {
  for (const pattern of ENDS) {
    const groups = pattern.exec(typed)?.groups
    if (!groups) continue
    const end = (text: string | undefined): number | null => {
      const value = text === undefined ? NaN : parsePlace(text, false)
      return Number.isNaN(value) ? null : value
    }
    return { low: end(groups.low ?? groups.both), high: end(groups.high ?? groups.both) }
  }
  return null
}

/** Rows kept by the values of a number that is named: "only humidity 60 to 80". */
function ofRange({ scope, edit }: Findings, typed: string): Entry[] {
  const isAsked = KEEPS.test(typed) || /[=<>≤≥]|\bexactly\b/.test(typed)
  const ends = isAsked ? endsIn(typed) : null
  if (!ends) return []
  const words = wanted(typed)
  return scope.variables
    .filter(({ kind, label }) => {
      const own = wanted(label)
      return kind === 'number' && own.length > 0 && own.every((word) => words.includes(word))
    })
    .slice(0, 2)
    .map(({ name }) => {
      const condition = { ...blankCondition(name), test: 'between' as const, ...ends }
      const filter = { join: 'and' as const, conditions: [condition] }
      return {
        kind: 'value',
        label: `Show only ${filterWords(filter, scope.variables)}`,
        where: 'Filter',
        does: () => edit((draft) => (draft.rows = kept(draft, condition))),
      }
    })
}

const blankCondition = (variable: string): Condition => ({
  variable,
  test: 'between',
  low: null,
  high: null,
  values: [],
  text: '',
})

function kept({ rows }: FigureDocument, condition: Condition): NonNullable<FigureDocument['rows']> {
  const isBeside = rows !== null && (rows.join === 'and' || rows.conditions.length < 2)
  const before = isBeside
    ? rows.conditions.filter((one) => one.variable !== condition.variable)
    : []
  return { join: 'and', conditions: [...before, condition] }
}

/** What is carried out as it was said; told beforehand in its words. */
export const wishes = (findings: Findings, typed: string, search: Search): Entry[] => [
  ...ofCategory(findings, typed),
  ...ofRange(findings, typed),
  ...ofColour(findings, typed, search),
  ...ofNumber(findings, typed, search),
]
