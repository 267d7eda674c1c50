/** Making a plate from one figure by changing one thing. */
import { blankSettings } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary, Varied } from '@/api/types'
import { kindOf } from '@/kinds'
import { CORNERS, VIEWS } from '@/kinds/space/views'
import { FAMILIES } from '@/figure-model/families'

export type Thing = Varied['thing']

export const THINGS: { value: Thing; label: string }[] = [
  { value: 'level', label: 'level of the bands' },
  { value: 'category', label: 'one figure for each category' },
  { value: 'form', label: 'trend type' },
  { value: 'turn', label: 'from where it is seen' },
  { value: 'x', label: 'x variable' },
  { value: 'y', label: 'y variable' },
]

export const LEVELS = [0.5, 0.8, 0.9, 0.95, 0.98, 0.99, 0.999]
const STARTING_LEVELS = [0.9, 0.95, 0.99]

/** The things that can be changed of a figure. */
export function thingsOf(document: FigureDocument, variables: VariableSummary[]): Thing[] {
  const kind = kindOf(document)
  return [
    ...(kind.hasTrend(document) ? (['level', 'form'] as const) : []),
    ...(variables.some(({ kind }) => kind === 'category') ? (['category'] as const) : []),
    ...(kind.isTurned ? (['turn'] as const) : []),
    ...(kind.isOfPair ? (['x', 'y'] as const) : []),
  ]
}

/** What a thing can be changed to, with those that a plate starts with. */
export function choicesOf(
  thing: Thing,
  variables: VariableSummary[],
  by: string,
  categories: string[],
): { varied: Varied; label: string; start: boolean }[] {
  switch (thing) {
    case 'level':
      return LEVELS.map((level) => ({
        varied: { thing, level },
        label: `${Number((level * 100).toPrecision(4))} %`,
        start: STARTING_LEVELS.includes(level),
      }))
    case 'form':
      // What rests on error bars would leave a plate's other figures without a line.
      return FAMILIES.filter(({ needs }) => !needs.includes('error bars')).map(
        ({ name, label, is_usual }) => ({
          varied: { thing, family: name, settings: blankSettings(name) } as Varied,
          label,
          start: is_usual,
        }),
      )
    case 'turn':
      return [...VIEWS, ...CORNERS.slice(1)].map(({ label, turn }, i) => ({
        varied: { thing, ...turn },
        label,
        start: i < VIEWS.length,
      }))
    case 'category':
      return categories.map((value) => ({
        varied: { thing, variable: by, value },
        label: value,
        start: true,
      }))
    case 'x':
    case 'y':
      return variables
        .filter(({ kind }) => kind === 'number' || kind === 'date')
        .map(({ name, label }, i) => ({
          varied: { thing, variable: name },
          label,
          start: i < 3,
        }))
  }
}
