/** The 3-D scatterplot: its name, and its statement. */
import { blankPlane, blankSpace } from '@/figure-model/blank'
import type { FigureDocument, OnFigure, VariableSummary } from '@/api/types'
import { filterWords } from '@/figure-model/statement/filter-words'
import {
  colourOffers,
  colourParts,
  nameOffers,
  nameParts,
  scaleOf,
  sizeOffers,
  sizeParts,
} from '@/figure-model/statement/marks'
import { axisOptions, byOptions } from '@/figure-model/statement/options'
import {
  act,
  choice,
  namesOf,
  needingRows,
  text,
  type StatementContext,
  type Statement,
  type StatementPart,
} from '@/figure-model/statement/parts'
import { setAxis } from '@/kinds/scatterplot/changing'
import type { FigureKind } from '@/kinds/figure-kind'

const KIND: FigureDocument['kind'] = '3-D scatterplot'

const SURFACES = [
  { value: 1, label: 'plane' },
  { value: 2, label: 'quadratic surface' },
  { value: null, label: 'remove it' },
]

const numbers = (variables: readonly VariableSummary[]): VariableSummary[] =>
  variables.filter(({ kind }) => kind === 'number' || kind === 'date')

/** What was set for another variable in the depth says nothing of this one. */
function setDepth({ edit }: StatementContext, name: string | null): void {
  edit((draft) => {
    if (name === null) draft.kind = 'scatterplot'
    else
      draft.space = {
        ...draft.space!,
        variable: name,
        axis: {
          ...draft.space!.axis,
          title: null,
          low: null,
          high: null,
          step: null,
          positions: [],
        },
        plane: draft.space!.plane && { ...draft.space!.plane, read_off: [] },
      }
  })
}

function planeParts(ground: StatementContext): StatementPart[] {
  const { document, variables, edit } = ground
  const plane = document.space!.plane
  if (!plane) return []
  const { within } = namesOf(ground)
  return [
    text(' · trend: '),
    choice<number | null>({
      label: 'Trend',
      options: SURFACES,
      chosen: plane.degree,
      choose: (degree) =>
        edit((draft) => {
          if (degree === null) draft.space!.plane = null
          else draft.space!.plane!.degree = degree === 2 ? 2 : 1
        }),
    }),
    text(' for '),
    choice<string | null>({
      label: 'Fitted to',
      text: plane.by === null ? 'all rows' : `each ${within(plane.by)}`,
      options: byOptions([...variables], document.colour),
      chosen: plane.by,
      choose: (by) => edit((draft) => (draft.space!.plane!.by = by)),
    }),
  ]
}

function statement(ground: StatementContext): Statement {
  const { document, variables, edit } = ground
  const { label, within } = namesOf(ground)
  const { space } = document
  const options = axisOptions([...variables])
  const up = document.y[0]
  return {
    sentence: [
      choice({
        label: 'y variable',
        role: 'y',
        text: label(up),
        options,
        chosen: up,
        choose: (name) => setAxis(ground, 'y', name),
      }),
      text(' against '),
      choice({
        label: 'x variable',
        role: 'x',
        text: within(document.x),
        options,
        chosen: document.x,
        choose: (name) => setAxis(ground, 'x', name),
      }),
      text(' and '),
      choice<string | null>({
        label: 'z variable',
        role: 'z',
        text: within(space!.variable),
        options: [...options, { label: 'remove it', value: null }],
        chosen: space!.variable,
        choose: (name) => setDepth(ground, name),
      }),
      ...sizeParts(ground),
      ...colourParts(ground),
      ...nameParts(ground),
      ...planeParts(ground),
      { kind: 'rows', text: document.rows ? filterWords(document.rows, variables) : '' },
    ],
    offers: [
      ...needingRows(ground, sizeOffers(ground)),
      ...colourOffers(ground),
      ...needingRows(ground, nameOffers(ground)),
      ...(space!.plane
        ? []
        : [
            act('Add a plane', '+ plane', () =>
              edit((draft) => {
                const colour = scaleOf(ground) === 'category' ? draft.colour : null
                draft.space!.plane = blankPlane(colour?.variable ?? null)
              }),
            ),
          ]),
      act('Look at the pair again', '← pair', () => setDepth(ground, null)),
    ],
  }
}

export const space: FigureKind = {
  name: (document, look) => {
    const { label, within } = namesOf({ document, look })
    return `${label(document.y[0])} against ${within(document.x)} and ${within(document.space!.variable)}`
  },
  statement,
  /** The third axis that was there before, or one that is chosen now. */
  offer: (ground) => {
    const { document, variables, edit } = ground
    const taken = new Set(
      document.matrix && document.kind === 'scatterplot matrix' ? [] : [document.x, ...document.y],
    )
    const options = axisOptions(numbers(variables)).filter(({ value }) => !taken.has(value))
    if (!options.length) return null
    const into = (name: string) =>
      edit((draft) => {
        if (draft.kind === 'scatterplot matrix') {
          const [up, across] = numbersOf(draft, variables)
          ;[draft.y, draft.x] = [[up], across]
        }
        draft.kind = KIND
        draft.space = draft.space ? { ...draft.space, variable: name } : blankSpace(name)
      })
    return document.space && !taken.has(document.space.variable)
      ? act('Add the third axis again', '← third axis', () => into(document.space!.variable))
      : choice({ label: 'Add a third axis', text: '+ third axis', options, choose: into })
  },
  isOfPair: true,
  isTurned: true,
  hasTrend: () => false,
  fitted: {
    of: ({ space: held }) => (held?.plane ? [held.plane as { on_figure: OnFigure[] }] : []),
    never: ['r'],
    isCompared: false,
    offer: 'Fit a plane',
    add: (draft) => (draft.space!.plane = blankPlane(null)),
    each: (draft, by) => {
      if (draft.space?.plane) draft.space.plane.by = by
    },
  },
  tunable: ({ document, answer }) => [
    { part: 'space', label: 'box' },
    { part: 'marks', label: 'marks' },
    { part: 'x-axis', label: 'x axis' },
    { part: 'depth-axis', label: 'z axis' },
    { part: 'y-axis', label: 'y axis' },
    ...(answer.colour || answer.size ? [{ part: 'legend' as const, label: 'legend' }] : []),
    ...(document.space!.plane ? [{ part: 'plane' as const, label: 'plane' }] : []),
    { part: 'title', label: 'titles' },
  ],
}

/** The first two variables of a matrix that have a place on an axis. */
function numbersOf(draft: FigureDocument, variables: readonly VariableSummary[]): [string, string] {
  const known = new Set(numbers(variables).map(({ name }) => name))
  const [up, across] = draft.matrix!.variables.filter((name) => known.has(name))
  return [up ?? draft.y[0], across ?? draft.x]
}
