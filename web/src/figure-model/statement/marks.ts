/** What of marks every sentence says that speaks of marks: what sizes, colours and names them. */
import type { FigureDocument } from '@/api/types'
import { blankColour, blankNames, blankSize } from '@/figure-model/blank'
import type { Trend } from '@/api/types'
import {
  byOptions,
  canBeEither,
  colourOptions,
  nameOptions,
  sizeOptions,
  type Option,
} from './options'
import {
  choice,
  namesOf,
  text,
  type ChoicePart,
  type Role,
  type StatementContext,
  type StatementPart,
} from './parts'

const MOST_ALL_NAMED = 40

const AS: Option<'amount' | 'category'>[] = [
  { label: 'an amount', value: 'amount' },
  { label: 'a category', value: 'category' },
]

export const scaleOf = (ground: StatementContext): 'amount' | 'category' => {
  const { colour } = ground.document
  const kind = namesOf(ground).variable(colour?.variable ?? '')?.kind
  return colour?.scale ?? (kind === 'number' || kind === 'date' ? 'amount' : 'category')
}

/** Up to so many bubbles begin in full size; more are smaller, so that they do not become a carpet. */
const IN_FULL = 120
const LEAST_SHARE = 0.3

/** Bubbles as they begin, for so many marks. */
function sizeFor(name: string, marks: number): NonNullable<FigureDocument['size']> {
  const size = blankSize(name)!
  const share = Math.min(1, Math.max(LEAST_SHARE, Math.sqrt(IN_FULL / Math.max(1, marks))))
  return { ...size, largest: Math.round(size.largest * share) }
}

function setSize({ edit, drawn }: StatementContext, name: string | null): void {
  edit((draft) => {
    draft.size = name === null ? null : { ...(draft.size ?? sizeFor(name, drawn)), variable: name }
  })
}

function setColour({ variables, document, edit }: StatementContext, name: string | null): void {
  const groups = byOptions([...variables], document.colour).some(({ value }) => value === name)
  edit((draft) => {
    const before = draft.colour?.variable
    draft.colour = name === null ? null : blankColour(name)
    draft.legend.title = null
    for (const trend of draft.trends)
      if (before && trend.by === before) trend.by = groups && name !== null ? name : null
    draft.trends = distinct(draft.trends)
  })
}

function distinct(trends: Trend[]): Trend[] {
  const seen = new Set<string>()
  return trends.filter(({ family, by }) => {
    const key = `${family} ${by}`
    return !seen.has(key) && seen.add(key)
  })
}

/** Few points are all named; of many, the largest bubbles, or those that lie outermost. */
function setNames({ edit, drawn }: StatementContext, name: string | null): void {
  edit((draft) => {
    if (name === null) draft.names = null
    else if (draft.names) draft.names.variable = name
    else if (drawn <= MOST_ALL_NAMED) draft.names = blankNames(name, 'all')
    else draft.names = blankNames(name, draft.size?.variable ? 'largest' : 'outermost')
  })
}

export function sizeParts(ground: StatementContext): StatementPart[] {
  const { document, variables } = ground
  const { size } = document
  if (!size) return []
  return [
    text(', sized by '),
    choice({
      label: 'Size',
      role: 'size',
      text: size.variable ? namesOf(ground).within(size.variable) : 'influence',
      options: sizeOptions([...variables]),
      chosen: size.variable,
      choose: (name) => setSize(ground, name),
    }),
  ]
}

export function colourParts(ground: StatementContext): StatementPart[] {
  const { document, variables, edit } = ground
  const { within, variable } = namesOf(ground)
  const { colour } = document
  if (!colour) return []
  return [
    text(', coloured by '),
    choice({
      label: 'Colour',
      role: 'colour',
      text: within(colour.variable),
      options: colourOptions([...variables]),
      chosen: colour.variable,
      choose: (name) => setColour(ground, name),
    }),
    ...(canBeEither(variable(colour.variable))
      ? [
          text(' as '),
          choice({
            label: 'Colour read as',
            options: AS,
            chosen: scaleOf(ground),
            choose: (scale) => edit((draft) => (draft.colour!.scale = scale)),
          }),
        ]
      : []),
  ]
}

export function nameParts(ground: StatementContext): StatementPart[] {
  const { document, variables } = ground
  const { names } = document
  if (!names) return []
  return [
    text(', labelled by '),
    choice({
      label: 'Labels',
      role: 'labels',
      text: namesOf(ground).within(names.variable),
      options: nameOptions([...variables]),
      chosen: names.variable,
      choose: (name) => setNames(ground, name),
    }),
  ]
}

/** An offer of what is not there yet. */
const offered = <Value>(
  isThere: boolean,
  role: Role,
  label: string,
  words: string,
  options: readonly Option<Value>[],
  choose: (value: Value) => void,
): ChoicePart[] =>
  isThere ? [] : [choice({ label, role, text: words, options: options.slice(0, -1), choose })]

export const sizeOffers = (ground: StatementContext): ChoicePart[] =>
  offered(
    ground.document.size !== null,
    'size',
    'Add a size',
    '+ size',
    sizeOptions([...ground.variables]),
    (name) => setSize(ground, name),
  )

export const colourOffers = (ground: StatementContext): ChoicePart[] =>
  offered(
    ground.document.colour !== null,
    'colour',
    'Add a colour',
    '+ colour',
    colourOptions([...ground.variables]),
    (name) => setColour(ground, name),
  )

export const nameOffers = (ground: StatementContext): ChoicePart[] =>
  offered(
    ground.document.names !== null,
    'labels',
    'Add labels',
    '+ labels',
    nameOptions([...ground.variables]),
    (name) => setNames(ground, name),
  )
