/** The scatterplot matrix: its name, and its statement. */
import { blankColour, blankMatrix } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { joined } from '@/figure-model/words'
import { filterWords } from '@/figure-model/statement/filter-words'
import {
  ABOVE_BELOW,
  colourOptions,
  DIAGONALS,
  matrixOptions,
  regionLabel,
} from '@/figure-model/statement/options'
import {
  act,
  between,
  choice,
  namesOf,
  text,
  type ChoicePart,
  type StatementContext,
  type Statement,
} from '@/figure-model/statement/parts'
import type { FigureKind } from '@/kinds/figure-kind'

const MOST = 16
/** With so many variables it starts. */
const FIRST = 5
/** From so many values without a gap, numbers count rows. */
const FEWEST_COUNTED = 30

/** Numbers that measure something: not such as count the rows from first to last. */
const amounts = (variables: readonly VariableSummary[]): VariableSummary[] =>
  variables.filter(
    ({ kind, distinct, min, max }) =>
      kind === 'number' &&
      !(
        distinct !== null &&
        distinct >= FEWEST_COUNTED &&
        typeof min === 'number' &&
        typeof max === 'number' &&
        max - min + 1 === distinct
      ),
  )

type Matrix = NonNullable<FigureDocument['matrix']>

function colourChoice(ground: StatementContext, label: string, words?: string): ChoicePart {
  const { document, variables, edit } = ground
  const { variable } = namesOf(ground)
  const options = colourOptions([...variables])
  return choice({
    label,
    role: 'colour',
    text: words,
    options: words ? options.slice(0, -1) : options,
    chosen: document.colour?.variable,
    choose: (name) =>
      edit((draft) => {
        draft.colour =
          name === null
            ? null
            : blankColour(name, variable(name)?.kind === 'number' ? 'category' : null)
      }),
  })
}

function statement(ground: StatementContext): Statement {
  const { document, variables, edit, showPairs } = ground
  const held = document.matrix!
  const { label, within } = namesOf(ground)
  const others = matrixOptions([...variables]).filter(
    ({ value }) => !held.variables.includes(value),
  )
  const numbers = amounts(variables)
    .map(({ name }) => name)
    .filter((name) => !held.variables.includes(name))
    .slice(0, MOST - held.variables.length)
  const set = (change: Partial<Matrix>): void =>
    edit((draft) => void Object.assign(draft.matrix!, change))
  const setVariable = (place: number, name: string | null): void =>
    edit((draft) => {
      const list = draft.matrix!.variables
      if (name === null) list.splice(place, 1)
      else list[place] = name
      draft.matrix!.variables = [...new Set(list)]
    })
  const region = (where: 'below' | 'above'): ChoicePart =>
    choice({
      label: where === 'below' ? 'Below the diagonal' : 'Above the diagonal',
      text: regionLabel(held, where),
      options: ABOVE_BELOW,
      chosen: held[where],
      choose: (value) => set({ [where]: value }),
    })
  return {
    sentence: [
      ...held.variables.flatMap((name, i) => [
        text(between(i, held.variables.length)),
        choice<string | null>({
          label: `Variable ${i + 1} of the matrix`,
          text: i === 0 ? label(name) : within(name),
          options: [
            { label: label(name), value: name },
            ...others,
            ...(held.variables.length > 2 ? [{ label: 'remove it', value: null }] : []),
          ],
          chosen: name,
          choose: (value) => setVariable(i, value),
        }),
      ]),
      text(' against each other'),
      ...(document.colour
        ? [
            text(', coloured by '),
            { ...colourChoice(ground, 'Colour'), text: within(document.colour.variable) },
          ]
        : []),
      text(' · below: '),
      region('below'),
      text(' · above: '),
      region('above'),
      text(' · diagonal: '),
      choice({
        label: 'On the diagonal',
        options: DIAGONALS,
        chosen: held.diagonal,
        choose: (diagonal) => set({ diagonal }),
      }),
      { kind: 'rows', text: document.rows ? filterWords(document.rows, variables) : '' },
    ],
    offers: [
      ...(held.variables.length < MOST && others.length
        ? [
            choice({
              label: 'Add a variable',
              role: 'matrix',
              text: '+ variable',
              options: others,
              choose: (name) => edit((draft) => void draft.matrix!.variables.push(name)),
            }),
          ]
        : []),
      ...(numbers.length
        ? [
            act('Add all numbers', '+ all numbers', () =>
              edit((draft) => void draft.matrix!.variables.push(...numbers)),
            ),
          ]
        : []),
      ...(document.colour ? [] : [colourChoice(ground, 'Add a colour', '+ colour')]),
      act('Strongest pairs', 'strongest pairs', showPairs),
    ],
  }
}

export const matrix: FigureKind = {
  name: (document, look) => {
    const { label, within } = namesOf({ document, look })
    const [head, ...rest] = document.matrix!.variables
    return `${joined([label(head), ...rest.map(within)])} against each other`
  },
  statement,
  /** The matrix that was there before, or one that starts with this pair. */
  offer: ({ document, variables, edit }) => {
    if (variables.filter(({ kind }) => kind === 'number').length < 2) return null
    const words = document.matrix ? '← matrix' : '+ matrix'
    return act('Every pair against each other', words, () =>
      edit((draft) => {
        draft.kind = 'scatterplot matrix'
        const names = [...draft.y, draft.x, ...amounts(variables).map(({ name }) => name)]
        draft.matrix ??= blankMatrix([...new Set(names)].slice(0, FIRST))
      }),
    )
  },
  returnTo: (draft) => {
    if (!draft.matrix) return false
    draft.kind = 'scatterplot matrix'
    return true
  },
  isOfPair: false,
  fitted: null,
  tunable: ({ answer }) => [
    { part: 'matrix', label: 'matrix' },
    ...(answer.colour ? [{ part: 'legend' as const, label: 'legend' }] : []),
    { part: 'title', label: 'titles' },
  ],
  hasTrend: ({ trends, matrix: held }) => trends.length > 0 || held?.below === 'trend',
}
