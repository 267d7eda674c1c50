/** The sentence of a figure of one pair of axes. */
import { blankColour, blankSize, blankTrend, setFamily as giveFamily } from '@/api/blank'
import type { FigureDocument, Trend } from '@/api/types'
import { familyLabel } from '@/model/families'
import { filterWords } from '@/statement/filter-words'
import {
  axisOptions,
  bandLabel,
  bandOptions,
  byOptions,
  canBeEither,
  colourOptions,
  familyOptions,
  nameOptions,
  sizeOptions,
  typedBand,
  upOptions,
  type Option,
} from '@/statement/options'
import {
  act,
  articleOf,
  between,
  choice,
  namesOf,
  text,
  type Ground,
  type Statement,
  type StatementPart,
} from '@/statement/parts'
import { addBars, setAxis, setNames, addUp, takeOff } from './changing'

const MOST_TRENDS = 3
const MOST_UP = 12

const AS: Option<'amount' | 'category'>[] = [
  { label: 'an amount', value: 'amount' },
  { label: 'a category', value: 'category' },
]

const scaleOf = (ground: Ground): 'amount' | 'category' => {
  const { colour } = ground.document
  const kind = namesOf(ground).variable(colour?.variable ?? '')?.kind
  return colour?.scale ?? (kind === 'number' || kind === 'date' ? 'amount' : 'category')
}

function setSize({ edit }: Ground, name: string | null): void {
  edit((draft) => {
    draft.size = name === null ? null : { ...(draft.size ?? blankSize(name)), variable: name }
  })
}

function setColour({ variables, document, edit }: Ground, name: string | null): void {
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

/** Lines of groups are told apart by colour, so that the marks are coloured with them. */
function setBy(ground: Ground, place: number, by: string | null): void {
  const isNumber = namesOf(ground).variable(by ?? '')?.kind === 'number'
  ground.edit((draft: FigureDocument) => {
    draft.trends[place].by = by
    if (by === null || draft.colour?.variable === by) return
    draft.colour = blankColour(by, isNumber ? 'category' : null)
    draft.legend.title = null
  })
}

function addTrend(ground: Ground, family: string | null): void {
  if (family === null) return
  const colour = scaleOf(ground) === 'category' ? ground.document.colour : null
  ground.edit((draft) => {
    const groups = colour?.variable ?? null
    const taken = draft.trends.some((trend) => trend.by === groups && trend.family === family)
    draft.trends.push(blankTrend(family, taken ? null : groups))
  })
}

function upParts(ground: Ground): StatementPart[] {
  const { document, variables } = ground
  const { label, within } = namesOf(ground)
  const count = document.y.length
  return document.y.flatMap((up, i) => [
    text(between(i, count)),
    choice<string | null>({
      label: i === 0 ? 'What goes up' : `What goes up, ${i + 1}`,
      text: i === 0 ? label(up) : within(up),
      options: [
        ...axisOptions([...variables]),
        ...(count > 1 ? [{ label: 'take it off', value: null }] : []),
      ],
      chosen: up,
      choose: (name) => (name === null ? takeOff(ground, i) : setAxis(ground, 'y', name, i)),
    }),
  ])
}

function colourParts(ground: Ground): StatementPart[] {
  const { document, variables, edit } = ground
  const { within, variable } = namesOf(ground)
  const { colour } = document
  if (!colour) return []
  return [
    text(', coloured by '),
    choice({
      label: 'Colour',
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

function trendParts(ground: Ground, trend: Trend, place: number): StatementPart[] {
  const { document, variables, edit } = ground
  const { within } = namesOf(ground)
  const isOfSeveral = document.y.length > 1
  const band = bandLabel(trend.bands)
  const article = articleOf(band)
  return [
    text(place ? ' · and ' : ' · trend: '),
    choice<string | null>({
      label: 'Trend',
      text: familyLabel(trend.family),
      options: familyOptions,
      chosen: trend.family,
      choose: (family) =>
        edit((draft) => {
          if (family === null) draft.trends.splice(place, 1)
          else giveFamily(draft.trends[place], family)
        }),
    }),
    text(' for '),
    choice<string | null>({
      label: 'Fitted for',
      text: isOfSeveral
        ? 'each variable'
        : trend.by === null
          ? 'the whole'
          : `each ${within(trend.by)}`,
      options: isOfSeveral
        ? [{ label: 'each variable', value: null }]
        : byOptions([...variables], document.colour),
      chosen: trend.by,
      choose: (by) => setBy(ground, place, by),
    }),
    text(article ? ` with ${article} ` : ' with '),
    choice({
      label: 'Band',
      text: band,
      options: bandOptions,
      chosen: trend.bands,
      typed: typedBand,
      hint: 'Type a level, such as 97.5',
      choose: (bands) =>
        edit((draft) => {
          const own = draft.trends[place]
          own.bands = bands
          if (bands.length) own.level = bands[0].level
        }),
    }),
  ]
}

export function statement(ground: Ground): Statement {
  const { document, tune, edit } = ground
  const variables = [...ground.variables]
  const { within } = namesOf(ground)
  const { size, names, error_bars: bars } = document
  const hasBars = Boolean(bars.x ?? bars.y)
  const more = upOptions(variables, document.y)
  return {
    sentence: [
      ...upParts(ground),
      text(' against '),
      choice({
        label: 'What goes across',
        text: within(document.x),
        options: axisOptions(variables),
        chosen: document.x,
        choose: (name) => setAxis(ground, 'x', name),
      }),
      ...(size
        ? [
            text(', sized by '),
            choice({
              label: 'Size',
              text: size.variable ? within(size.variable) : 'influence',
              options: sizeOptions(variables),
              chosen: size.variable,
              choose: (name) => setSize(ground, name),
            }),
          ]
        : []),
      ...colourParts(ground),
      ...(names
        ? [
            text(', named by '),
            choice({
              label: 'Names',
              text: within(names.variable),
              options: nameOptions(variables),
              chosen: names.variable,
              choose: (name) => setNames(ground, name),
            }),
          ]
        : []),
      ...(hasBars ? [text(', with '), act('error bars', 'error bars', () => tune('marks'))] : []),
      ...document.trends.flatMap((trend, i) => trendParts(ground, trend, i)),
      { kind: 'rows', text: document.rows ? filterWords(document.rows, variables) : '' },
    ],
    offers: [
      ...(document.y.length < MOST_UP && more.length
        ? [
            choice({
              label: 'Add another variable',
              text: '+ variable up',
              options: more,
              choose: (name) => addUp(ground, name),
            }),
          ]
        : []),
      ...(size
        ? []
        : [
            choice({
              label: 'Add a size',
              text: '+ size',
              options: sizeOptions(variables).slice(0, -1),
              choose: (name) => setSize(ground, name),
            }),
          ]),
      ...(document.colour || document.y.length > 1
        ? []
        : [
            choice({
              label: 'Add a colour',
              text: '+ colour',
              options: colourOptions(variables).slice(0, -1),
              choose: (name) => setColour(ground, name),
            }),
          ]),
      ...(names
        ? []
        : [
            choice({
              label: 'Add names',
              text: '+ names',
              options: nameOptions(variables).slice(0, -1),
              choose: (name) => setNames(ground, name),
            }),
          ]),
      ...(hasBars
        ? []
        : [
            act('Add error bars', '+ error bars', () => {
              edit((draft) => addBars(draft, variables))
              tune('marks')
            }),
          ]),
      ...(document.trends.length < MOST_TRENDS
        ? [
            choice({
              label: 'Add a trend',
              text: '+ trend',
              options: familyOptions.slice(0, -1),
              choose: (family) => addTrend(ground, family),
            }),
          ]
        : []),
    ],
  }
}
