/** An axis: its title, ends and scale, its ticks and their labels, its lines. */
import type { Axis, FigureDocument } from '@/api/types'
import { dateText, valueText } from '@/render/geometry/ticks'
import { homeView } from '@/render/layout/extents'
import { valueEnds } from '@/render/layout/distribution'
import { depthEnds } from '@/render/layout/space'
import { titled } from '@/render/text/titled'
import { parsePlace } from '@/figure-model/parse'
import {
  choice,
  colour,
  isDate,
  ofRows,
  place,
  points,
  slider,
  text,
  unless,
  type Control,
  type Scope,
} from './control'

export type Side = 'x' | 'y' | 'depth'

const baseOf = (side: Side) => (side === 'depth' ? 'space.axis' : (`axes.${side}` as const))
const axisIn = ({ axes, space }: FigureDocument, side: Side): Axis =>
  side === 'depth' ? space!.axis : axes[side]
const wordsOf = ({ drawn }: Scope, side: Side) =>
  (side === 'depth' ? drawn?.answer.space?.depth : drawn?.answer[side])?.variable

const inBox = (why: string) => (scope: Scope) => (scope.drawn?.answer.space ? why : '')
const onWalls = inBox('In a box the walls carry gridlines.')
const ofPlot = (scope: Scope): string =>
  inBox('It belongs to a plot of two axes.')(scope) ||
  (scope.drawn?.answer.distribution ? 'A distribution has one axis.' : '')

const shown = (value: number, scope: Scope, side: Side): string =>
  isDate(side)(scope) ? dateText(value) : valueText(value)

const home = ({ drawn }: Scope, side: Side): readonly [number, number] => {
  if (!drawn) return [0, 1]
  if (drawn.answer.distribution && side === 'y') return valueEnds(drawn)
  return side !== 'depth' ? homeView(drawn)[side] : drawn.answer.space ? depthEnds(drawn) : [0, 1]
}

function standardTitle(scope: Scope, side: Side): string {
  const words = wordsOf(scope, side)
  return words ? titled(words) : ''
}

function checkEnd(side: Side, end: 'low' | 'high') {
  return (value: number | null, scope: Scope): string => {
    const { scale, ...axis } = axisIn(scope.document, side)
    const next = { ...axis, [end]: value }
    const low = next.low ?? home(scope, side)[0]
    const high = next.high ?? home(scope, side)[1]
    if (low >= high)
      return `The axis must end above where it starts, and ${shown(low, scope, side)} is not below ${shown(high, scope, side)}.`
    if (scale === 'log' && next.low !== null && next.low <= 0)
      return 'A logarithmic axis starts above zero.'
    if (scale === 'sqrt' && next.low !== null && next.low < 0)
      return 'A square-root axis starts at zero or above.'
    return ''
  }
}

const MOST_PLACES = 200

/** Places that are typed one after the other. */
const partsOf = (words: string): string[] =>
  words
    .split(/;|,\s/)
    .map((one) => one.trim())
    .filter(Boolean)

export function axisControls(side: Side) {
  const base = baseOf(side)
  const axis = ({ document }: Scope): Axis => axisIn(document, side)
  const end = (which: 'low' | 'high', label: string, find: string): Control =>
    place({
      at: `${base}.${which}`,
      label,
      find,
      placeholder: (scope) => shown(home(scope, side)[which === 'low' ? 0 : 1], scope, side),
      isDate: isDate(side),
      check: checkEnd(side, which),
    })
  const title: Control[] = [
    text({
      at: `${base}.title`,
      label: 'Title',
      find: 'axis name words',
      maxlength: 500,
      live: true,
      read: (scope) => axis(scope).title ?? standardTitle(scope, side),
      // An axis may go without a title: nothing is not the same as what it is called by itself.
      write: (draft, words, scope) =>
        (axisIn(draft, side).title = words === standardTitle(scope, side) ? null : words),
    }),
  ]
  const ends: Control[] = [
    end('low', 'Starts at', 'minimum zero limit range'),
    end('high', 'Ends at', 'maximum limit range'),
  ]
  const scale: Control[] = [
    choice<Axis['scale']>({
      at: `${base}.scale`,
      label: 'Scale',
      find: 'log logarithmic linear square root',
      options: [
        { value: 'linear', label: 'linear' },
        { value: 'log', label: 'logarithmic' },
        { value: 'sqrt', label: 'square root' },
      ],
      off: (scope) => (isDate(side)(scope) ? 'Dates run evenly.' : ''),
      // Another scale may have no place for the end that was typed.
      write: (draft, value) => {
        const own = axisIn(draft, side)
        const least = value === 'log' ? Number.MIN_VALUE : 0
        const fitting = (end: number | null): number | null =>
          value === 'linear' || end === null || end > least || (end === least && value === 'sqrt')
            ? end
            : null
        const [low, high] = [fitting(own.low), fitting(own.high)]
        Object.assign(own, { scale: value, low, high: high === 0 ? null : high })
      },
    }),
    choice<Axis['base']>({
      at: `${base}.base`,
      label: 'Base',
      find: 'logarithm',
      options: [
        { value: 10, label: '10' },
        { value: 2, label: '2' },
        { value: 'e', label: 'e' },
      ],
      off: unless((scope) => axis(scope).scale === 'log', 'The axis is not logarithmic.'),
    }),
    choice({
      at: `${base}.reversed`,
      label: 'Direction',
      find: 'reverse flip invert',
      options: [
        { value: false, label: 'normal' },
        { value: true, label: 'reversed' },
      ],
    }),
    choice<Axis['grid']>({
      at: `${base}.grid`,
      label: 'Gridlines',
      find: 'grid lines background',
      options: [
        { value: 'none', label: 'none' },
        { value: 'large', label: 'major ticks' },
        { value: 'all', label: 'major and minor ticks' },
      ],
      off: onWalls,
    }),
  ]
  const tickPlaces: Control[] = [
    place({
      at: `${base}.step`,
      label: 'Tick every',
      find: 'interval spacing ticks days',
      placeholder: () => 'as fits',
      check: (value) => (value !== null && value <= 0 ? 'Type a step above zero.' : ''),
    }),
    text({
      at: `${base}.positions`,
      label: 'Tick positions',
      find: 'positions places',
      maxlength: 4000,
      placeholder: '10; 20; 50',
      read: (scope) =>
        axis(scope)
          .positions.map((value) => shown(value, scope, side))
          .join('; '),
      check: (words, scope) => {
        const parts = partsOf(words)
        const wrong = parts.find((one) => Number.isNaN(parsePlace(one, isDate(side)(scope))))
        const what = isDate(side)(scope) ? 'a date such as 2031-04-01' : 'a number'
        if (wrong !== undefined) return `“${wrong}” is not ${what}.`
        return parts.length > MOST_PLACES ? `At most ${MOST_PLACES} ticks can be placed.` : ''
      },
      write: (draft, words, scope) =>
        (axisIn(draft, side).positions = partsOf(words)
          .map((one) => parsePlace(one, isDate(side)(scope)))
          .filter((value) => !Number.isNaN(value))
          .slice(0, MOST_PLACES)),
    }),
  ]
  const ticks: Control[] = [
    choice<Axis['ticks']>({
      at: `${base}.ticks`,
      label: 'Ticks',
      find: 'marks on the axis',
      options: [
        { value: 'out', label: 'out' },
        { value: 'in', label: 'in' },
        { value: 'across', label: 'crossing' },
        { value: 'none', label: 'none' },
      ],
    }),
    slider({
      at: `${base}.small_ticks`,
      label: 'Minor ticks',
      find: 'minor ticks',
      min: 0,
      max: 9,
      text: String,
    }),
  ]
  const tickWords: Control[] = [
    place({
      at: `${base}.digits`,
      label: 'Decimals',
      find: 'digits precision',
      placeholder: () => 'as needed',
      write: (draft, value) =>
        (axisIn(draft, side).digits =
          value === null ? null : Math.max(0, Math.min(12, Math.round(value)))),
    }),
    text({ at: `${base}.prefix`, label: 'Prefix', find: 'prefix currency', maxlength: 20 }),
    text({ at: `${base}.suffix`, label: 'Suffix', find: 'suffix percent', maxlength: 20 }),
  ]
  const labels = choice<Axis['labels']>({
    at: `${base}.labels`,
    label: 'Tick label angle',
    find: 'rotate slanted angle',
    options: [
      { value: 'auto', label: 'automatic' },
      { value: 'level', label: 'horizontal' },
      { value: 'slanted', label: 'slanted' },
      { value: 'upright', label: 'vertical' },
    ],
    off: inBox('Axis titles of a box stay horizontal.'),
  })
  const lines: Control[] = [
    place({
      at: `${base}.crosses`,
      label: 'Crosses the other axis at',
      find: 'cross origin zero',
      placeholder: () => 'the edge',
      isDate: isDate(side),
      off: ofPlot,
    }),
    choice({
      at: 'axes.frame',
      label: 'Axis line extent',
      find: 'box frame range',
      options: [
        { value: 'range', label: 'the data' },
        { value: 'full', label: 'the plot' },
        { value: 'box', label: 'box' },
      ],
      off: ofPlot,
    }),
    choice({
      at: 'axes.equal',
      label: 'Both axes',
      find: 'equal aspect square units',
      options: [
        { value: false, label: 'fill the page' },
        { value: true, label: 'equal units' },
      ],
      off: ofPlot,
    }),
    slider({
      at: `${base}.width`,
      label: 'Line',
      find: 'axis line width',
      min: 0,
      max: 4,
      step: 0.25,
      text: (width) => (width ? points(width) : 'none'),
    }),
    colour({ at: `${base}.colour`, label: 'Colour of the line', find: 'axis' }),
  ]
  const isMargin = ({ document: { margins } }: Scope): boolean =>
    margins[side === 'y' ? 'y' : 'x'] !== 'none'
  const margin = choice({
    at: `margins.${side === 'y' ? 'y' : 'x'}`,
    label: 'Distribution along the axis',
    find: 'histogram density box margin',
    options: [
      { value: 'none', label: 'none' },
      { value: 'histogram', label: 'histogram' },
      { value: 'density', label: 'density' },
      { value: 'box', label: 'box' },
    ],
    off: (scope) => ofPlot(scope) || ofRows(isMargin)(scope),
  })
  return { title, ends, scale, tickPlaces, ticks, tickWords, labels, lines, margin }
}
