/** The sentence of a figure of one pair of axes. */
import { blankColour, blankTrend, setFamily as giveFamily } from '@/figure-model/blank'
import type { FigureDocument, Trend } from '@/api/types'
import { familyOf, trendLabel, USUAL_FAMILY } from '@/figure-model/families'
import { settingKey } from '@/figure-model/settings'
import { filterWords } from '@/figure-model/statement/filter-words'
import {
  axisOptions,
  bandLabel,
  bandOptions,
  byOptions,
  familyOptions,
  typedBand,
  upOptions,
  type Option,
} from '@/figure-model/statement/options'
import {
  act,
  articleOf,
  between,
  choice,
  namesOf,
  needingRows,
  text,
  type ActPart,
  type StatementContext,
  type Statement,
  type StatementPart,
} from '@/figure-model/statement/parts'
import {
  colourOffers,
  colourParts,
  nameOffers,
  nameParts,
  scaleOf,
  sizeOffers,
  sizeParts,
} from '@/figure-model/statement/marks'
import { addUp, barsFrom, setAxis, takeOff } from './changing'

const MOST_TRENDS = 3
const SLOPES: Option<Trend['slopes']>[] = [
  { label: 'a common slope', value: 'common' },
  { label: 'own slopes', value: 'own' },
]
const MOST_UP = 12

/** Lines of groups are told apart by colour, so that the marks are coloured with them. */
function setBy(ground: StatementContext, place: number, by: string | null): void {
  const isNumber = namesOf(ground).variable(by ?? '')?.kind === 'number'
  ground.edit((draft: FigureDocument) => {
    draft.trends[place].by = by
    if (by === null || draft.colour?.variable === by) return
    draft.colour = blankColour(by, isNumber ? 'category' : null)
    draft.legend.title = null
  })
}

/** A family that says nothing before something is typed opens the field for it. */
function openWords({ seek }: StatementContext, family: string, place: number): void {
  const typed = familyOf(family).settings.find(({ control }) => control === 'text')
  if (typed) seek(`trend-${place}`, settingKey(typed.name))
}

function addTrend(ground: StatementContext, family: string | null): void {
  if (family === null) return
  const place = ground.document.trends.length
  const colour = scaleOf(ground) === 'category' ? ground.document.colour : null
  ground.edit((draft) => {
    const groups = colour?.variable ?? null
    const taken = draft.trends.some((trend) => trend.by === groups && trend.family === family)
    draft.trends.push(blankTrend(family, taken ? null : groups))
  })
  openWords(ground, family, place)
}

function upParts(ground: StatementContext): StatementPart[] {
  const { document, variables } = ground
  const { label, within } = namesOf(ground)
  const count = document.y.length
  return document.y.flatMap((up, i) => [
    text(between(i, count)),
    choice<string | null>({
      role: i === 0 ? 'y' : undefined,
      label: i === 0 ? 'y variable' : `y variable ${i + 1}`,
      text: i === 0 ? label(up) : within(up),
      options: [
        ...axisOptions([...variables]),
        ...(count > 1 ? [{ label: 'remove it', value: null }] : []),
      ],
      chosen: up,
      choose: (name) => (name === null ? takeOff(ground, i) : setAxis(ground, 'y', name, i)),
    }),
  ])
}

function trendParts(ground: StatementContext, trend: Trend, place: number): StatementPart[] {
  const { document, variables, edit } = ground
  const { within } = namesOf(ground)
  const isOfSeveral = document.y.length > 1
  const band = bandLabel(trend.bands)
  const article = articleOf(band)
  return [
    text(place ? ' · and ' : ' · trend: '),
    choice<string | null>({
      label: 'Trend',
      text: trendLabel(trend),
      options: familyOptions(document),
      chosen: trend.family,
      choose: (family) => {
        edit((draft) => {
          if (family === null) draft.trends.splice(place, 1)
          else giveFamily(draft.trends[place], family)
        })
        if (family !== null) openWords(ground, family, place)
      },
    }),
    text(' for '),
    choice<string | null>({
      label: 'Fitted to',
      text: isOfSeveral
        ? 'each variable'
        : trend.by === null
          ? 'all rows'
          : `each ${within(trend.by)}`,
      options: isOfSeveral
        ? [{ label: 'each variable', value: null }]
        : byOptions([...variables], document.colour),
      chosen: trend.by,
      choose: (by) => setBy(ground, place, by),
    }),
    ...(trend.slopes === 'common' && trend.by !== null
      ? [
          text(', with '),
          choice<Trend['slopes']>({
            label: 'Slopes',
            options: SLOPES,
            chosen: trend.slopes,
            choose: (slopes) => edit((draft) => (draft.trends[place].slopes = slopes)),
          }),
          text(article ? ` and ${article} ` : ' and '),
        ]
      : [text(article ? ` with ${article} ` : ' with ')]),
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

/** Lines of groups that could be parallel. */
function slopeOffers({ document, edit }: StatementContext): ActPart[] {
  const place = document.trends.findIndex(
    ({ family, by, slopes, weights, errors }) =>
      family === USUAL_FAMILY && by !== null && slopes === 'own' && !weights && errors === 'equal',
  )
  return place < 0 || document.y.length > 1
    ? []
    : [
        act('Parallel lines, one slope for all', '+ common slope', () =>
          edit((draft) => (draft.trends[place].slopes = 'common')),
        ),
      ]
}

export function statement(ground: StatementContext): Statement {
  const { document, tune, seek, edit } = ground
  const variables = [...ground.variables]
  const { within } = namesOf(ground)
  const { error_bars: bars } = document
  const hasBars = Boolean(bars.x ?? bars.y)
  const more = upOptions(variables, document.y)
  return {
    sentence: [
      ...upParts(ground),
      text(' against '),
      choice({
        label: 'x variable',
        role: 'x',
        text: within(document.x),
        options: axisOptions(variables),
        chosen: document.x,
        choose: (name) => setAxis(ground, 'x', name),
      }),
      ...sizeParts(ground),
      ...colourParts(ground),
      ...nameParts(ground),
      ...(hasBars ? [text(', with '), act('error bars', 'error bars', () => tune('marks'))] : []),
      ...document.trends.flatMap((trend, i) => trendParts(ground, trend, i)),
      { kind: 'rows', text: document.rows ? filterWords(document.rows, variables) : '' },
    ],
    offers: [
      ...needingRows(ground, [
        ...(document.y.length < MOST_UP && more.length
          ? [
              choice({
                label: 'Add another variable',
                role: 'another y',
                text: '+ y variable',
                options: more,
                choose: (name) => addUp(ground, name),
              }),
            ]
          : []),
        ...sizeOffers(ground),
      ]),
      ...(document.y.length > 1 ? [] : colourOffers(ground)),
      ...nameOffers(ground),
      ...(hasBars
        ? []
        : needingRows(ground, [
            act('Add error bars', '+ error bars', () => {
              const bars = barsFrom(variables)
              if (bars) edit((draft) => (draft.error_bars.y = bars))
              // Where no variable is named so, nothing is drawn before a source is chosen.
              seek('marks', 'error_bars.y y error bars')
            }),
          ])),
      ...slopeOffers(ground),
      ...(document.trends.length < MOST_TRENDS
        ? [
            choice({
              label: 'Add a trend',
              text: '+ trend',
              options: familyOptions(document).slice(0, -1),
              choose: (family) => addTrend(ground, family),
            }),
          ]
        : []),
    ],
  }
}
