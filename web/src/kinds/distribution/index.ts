/** The distribution: its name, and its statement. */
import { blankColour, blankDistribution } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { filterWords } from '@/figure-model/statement/filter-words'
import {
  colourOffers,
  colourParts,
  nameOffers,
  nameParts,
  sizeOffers,
  sizeParts,
} from '@/figure-model/statement/marks'
import { axisOptions, type Option } from '@/figure-model/statement/options'
import {
  act,
  choice,
  namesOf,
  needingRows,
  text,
  type StatementContext,
  type Statement,
} from '@/figure-model/statement/parts'
import { UNSET } from '@/kinds/scatterplot/changing'
import type { FigureKind } from '@/kinds/figure-kind'
import { shapesOf, SHAPES, showAs } from './shapes'

const KIND: FigureDocument['kind'] = 'distribution'

const categories = (variables: readonly VariableSummary[]): VariableSummary[] =>
  variables.filter(({ kind }) => kind === 'category')

/** A number by itself, or for each category, whose colours then tell the groups apart. */
export function distributionOf(
  draft: FigureDocument,
  variable: string,
  by: string | null,
  needsRows = '',
): void {
  if (draft.y[0] !== variable) draft.axes.y = { ...draft.axes.y, ...UNSET }
  draft.kind = KIND
  draft.distribution = { ...(draft.distribution ?? blankDistribution(variable, by)), variable, by }
  if (by !== null) draft.colour ??= blankColour(by)
  if (by === null && !draft.colour) showAs(draft.distribution, 'histogram and density')
  else if (needsRows && draft.distribution.points !== 'none')
    showAs(draft.distribution, by === null ? 'histogram and density' : 'a density and a box')
}

function setBy({ edit }: StatementContext, by: string | null): void {
  edit((draft) => {
    const held = draft.distribution!
    // Colours that told the groups apart go on telling the new ones apart.
    if ((draft.colour?.variable ?? null) === held.by)
      draft.colour = by === null ? null : blankColour(by)
    held.by = by
  })
}

function statement(ground: StatementContext): Statement {
  const { document, variables, needsRows, edit } = ground
  const { label, within } = namesOf(ground)
  const held = document.distribution!
  const each: Option<string | null>[] = [
    { label: 'by itself', value: null },
    ...categories(variables).map(({ name }) => ({
      label: `for each ${within(name)}`,
      value: name,
    })),
  ]
  const shown = shapesOf(held)
  return {
    sentence: [
      choice({
        label: 'Variable shown',
        role: 'y',
        text: label(held.variable),
        options: axisOptions([...variables]),
        chosen: held.variable,
        choose: (name) =>
          edit((draft) => {
            Object.assign(draft.distribution!, {
              variable: name,
              bin_width: null,
              bin_start: null,
              bandwidth: null,
            })
            draft.axes.y = { ...draft.axes.y, ...UNSET }
          }),
      }),
      text(' '),
      choice({
        label: 'For which categories',
        role: 'by',
        text: held.by === null ? 'by itself' : `for each ${within(held.by)}`,
        options: each,
        chosen: held.by,
        choose: (by) => setBy(ground, by),
      }),
      text(', as '),
      choice({
        label: 'Shown as',
        text: shown,
        // What shows every row by itself is no choice where rows are never together.
        options: SHAPES.filter(({ shown }) => !needsRows || shown.points === 'none').map(
          ({ label: words }) => ({ label: words, value: words }),
        ),
        chosen: shown,
        choose: (words) => edit((draft) => showAs(draft.distribution!, words)),
      }),
      ...sizeParts(ground),
      ...colourParts(ground),
      ...nameParts(ground),
      { kind: 'rows', text: document.rows ? filterWords(document.rows, variables) : '' },
    ],
    offers: [
      ...needingRows(ground, [
        ...sizeOffers(ground),
        ...colourOffers(ground),
        ...nameOffers(ground),
      ]),
      ...(document.x === document.y[0]
        ? []
        : [
            act('Look at the pair again', '← pair', () =>
              edit((draft) => (draft.kind = 'scatterplot')),
            ),
          ]),
    ],
  }
}

export const distribution: FigureKind = {
  name: (document, look) => {
    const { label, within } = namesOf({ document, look })
    const { variable, by } = document.distribution!
    return by === null
      ? `${label(variable)} by itself`
      : `${label(variable)} for each ${within(by)}`
  },
  statement,
  /** What goes up by itself, or for each category: what people put on an axis of codes. */
  offer: ({ document, variables, look, needsRows, edit }) => {
    const { label, within } = namesOf({ document, look })
    const numbers = new Set(axisOptions([...variables]).map(({ value }) => value))
    // Of a matrix every variable stands on the diagonal by itself.
    const own = (
      document.kind === 'scatterplot matrix' ? document.matrix!.variables : document.y
    ).filter((name) => numbers.has(name))
    const [first] = own
    if (!first) return null
    return choice<[string, string | null]>({
      label: 'Show its distribution',
      text: '+ distribution',
      options: [
        ...own.map((name) => ({
          label: `${label(name)} by itself`,
          value: [name, null] as [string, string | null],
        })),
        ...categories(variables).map(({ name }) => ({
          label: `${label(first)} for each ${within(name)}`,
          value: [first, name] as [string, string | null],
        })),
      ],
      choose: ([variable, by]) => edit((draft) => distributionOf(draft, variable, by, needsRows)),
    })
  },
  isOfPair: false,
  hasTrend: () => false,
  fitted: null,
  tunable: ({ answer }) => [
    { part: 'distribution', label: 'distribution' },
    { part: 'marks', label: 'marks' },
    { part: 'y-axis', label: 'value axis' },
    ...(answer.colour || answer.size ? [{ part: 'legend' as const, label: 'legend' }] : []),
    { part: 'title', label: 'titles' },
  ],
}
