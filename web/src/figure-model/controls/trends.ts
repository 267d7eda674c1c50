/** A trend: its form, how its line is drawn, what is said of it. */
import { setFamily } from '@/figure-model/blank'
import { BAND_OPACITY } from '@/render/parts/trends'
import type { FigureDocument, Trend } from '@/api/types'
import { offeredFamilies } from '@/figure-model/families'
import {
  choice,
  colour,
  isDate,
  level,
  ofRows,
  place,
  points,
  select,
  share,
  slider,
  unless,
  words,
  type Control,
  type Scope,
} from './control'

export const formsOf = ({ document }: Scope): { value: string; label: string }[] =>
  offeredFamilies(document).map(({ name, label }) => ({ value: name, label }))

const notNegative = (value: number | null): string =>
  value !== null && value < 0 ? 'Type an amount of zero or above.' : ''

export function trendControls(trend: number) {
  const own = ({ document }: Scope): Trend => document.trends[trend]
  const hasBand = unless((scope) => own(scope).bands.length > 0, 'The trend has no band.')
  const carry = (end: 'before' | 'after', label: string): Control =>
    place({
      at: `trends.${trend}.carry.${end}`,
      label,
      find: 'extend forecast extrapolate carry on beyond before after',
      placeholder: (scope) => (isDate('x')(scope) ? 'days' : 'none'),
      read: (scope) => own(scope).carry[end] || null,
      write: (draft, value) => (draft.trends[trend].carry[end] = value ?? 0),
      check: notNegative,
    })
  return {
    form: select({
      at: `trends.${trend}.family`,
      label: 'Trend type',
      find: 'regression fit model line curve polynomial own formula function equation quantile median percentile piecewise segmented breakpoint sine period season',
      options: formsOf,
      write: (draft, family) => setFamily(draft.trends[trend], family!),
    }),
    level: level({
      at: `trends.${trend}.level`,
      label: 'Confidence level, %',
      find: 'confidence interval level percent',
      // A single band goes with it.
      write: (draft, share) => {
        const one = draft.trends[trend]
        one.level = share
        if (one.bands.length === 1) one.bands[0].level = share
      },
    }),
    errors: [
      choice<Trend['errors']>({
        at: `trends.${trend}.errors`,
        label: 'Standard errors',
        find: 'robust standard errors heteroscedastic unequal scatter cluster clustered repeated bootstrap resampling known absolute given',
        options: [
          { value: 'equal', label: 'constant variance' },
          { value: 'hc3', label: 'unequal variance (HC3)' },
          { value: 'cluster', label: 'by cluster (rows that belong together)' },
          { value: 'bootstrap', label: 'bootstrap' },
          { value: 'given', label: 'given (as weights)' },
        ],
        off: ofRows((scope) => own(scope).errors !== 'equal'),
      }),
      select({
        at: `trends.${trend}.clusters`,
        label: 'Rows belong to',
        find: 'cluster subject repeated measures dependent rows panel hierarchical grouped standard errors',
        options: ({ variables }) => [
          { value: null, label: 'choose a variable' },
          ...variables
            .filter(({ kind }) => kind !== 'date')
            .map(({ name, label }) => ({ value: name, label })),
        ],
        off: unless((scope) => own(scope).errors === 'cluster', 'Rows stand for themselves.'),
      }),
      place({
        at: `trends.${trend}.seed`,
        label: 'Bootstrap seed',
        find: 'bootstrap random seed',
        off: unless((scope) => own(scope).errors === 'bootstrap', 'No rows are resampled.'),
        check: (value) =>
          value === null || !Number.isInteger(value) || value < 0 || value >= 2 ** 31
            ? 'A whole number from 0.'
            : '',
      }),
    ],
    carry: [carry('before', 'To the left'), carry('after', 'To the right')],
    line: [
      slider({
        at: `trends.${trend}.width`,
        label: 'Width',
        find: 'trend line thickness',
        min: 0.5,
        max: 8,
        step: 0.25,
        text: points,
      }),
      choice<Trend['dash']>({
        at: `trends.${trend}.dash`,
        label: 'Line style',
        find: 'dashed dotted trend line',
        options: [
          { value: 'solid', label: 'solid' },
          { value: 'dashed', label: 'dashed' },
          { value: 'dotted', label: 'dotted' },
        ],
      }),
      colour({
        at: `trends.${trend}.colour`,
        label: 'Colour of the line',
        find: 'trend',
        none: 'its group’s',
      }),
      share({
        at: `trends.${trend}.opacity`,
        label: 'Opacity of the line',
        find: 'trend transparent see through fade',
        min: 5,
      }),
    ],
    band: [
      colour({
        at: `trends.${trend}.band_colour`,
        label: 'Colour of the band',
        find: 'confidence ribbon shade fill interval',
        none: 'the line’s',
        off: hasBand,
      }),
      share({
        at: `trends.${trend}.band_opacity`,
        label: 'Opacity of the band',
        find: 'confidence ribbon transparent see through fade interval',
        read: (scope) => own(scope).band_opacity ?? BAND_OPACITY,
        off: hasBand,
      }),
    ],
    equation: [
      choice<Trend['letters']>({
        at: `trends.${trend}.letters`,
        label: 'Equation uses',
        find: 'variables letters',
        options: [
          { value: 'x', label: 'x and y' },
          { value: 'variables', label: 'variable names' },
        ],
      }),
      slider({
        at: `trends.${trend}.digits`,
        label: 'Digits',
        find: 'equation decimals precision significant',
        min: 0,
        max: 10,
        read: (scope) => own(scope).digits ?? 0,
        text: (digits) => (digits ? String(digits) : 'as few as land on the line'),
        write: (draft, digits) => (draft.trends[trend].digits = digits || null),
      }),
    ],
    weights: [
      select({
        at: `trends.${trend}.weights`,
        label: 'Weights',
        find: 'weighted regression',
        options: ({ variables }) => [
          { value: null, label: 'all rows equal' },
          ...variables
            .filter(({ kind }) => kind === 'number')
            .map(({ name, label }) => ({ value: name, label })),
        ],
        off: ofRows((scope) => own(scope).weights),
      }),
      choice<Trend['weights_are']>({
        at: `trends.${trend}.weights_are`,
        label: 'Weights are',
        find: 'weights precisions counts frequencies standard errors',
        options: [
          { value: 'weights', label: 'precisions (1/variance)' },
          { value: 'counts', label: 'counts of rows' },
          { value: 'standard_errors', label: 'standard errors of y' },
        ],
        off: unless((scope) => own(scope).weights !== null, 'All rows weigh alike.'),
      }),
    ],
  }
}

const BANDS: { value: Trend['bands'][number]['kind']; label: string }[] = [
  { value: 'confidence', label: 'confidence (mean)' },
  { value: 'whole line', label: 'simultaneous (whole line)' },
  { value: 'prediction', label: 'prediction (new row)' },
]

/** A band about a trend. */
export const bandControls = (trend: number, band: number) => ({
  level: level({
    at: `trends.${trend}.bands.${band}.level`,
    label: `Level of band ${band + 1}, %`,
    find: 'confidence prediction band interval',
    bare: true,
  }),
  kind: select({
    at: `trends.${trend}.bands.${band}.kind`,
    label: `Band ${band + 1} type`,
    find: 'confidence prediction band mean new row whole line simultaneous',
    bare: true,
    options: () => BANDS,
  }),
})

/** A number read off a trend: what it is called, and off which of the lines it is read. */
export const readOffControls = (
  trend: number,
  nth: number,
  said: string,
  groups: readonly { value: string; label: string }[],
) => [
  words({
    at: `trends.${trend}.read_off.${nth}.name`,
    label: `Name of ${said}`,
    find: 'read off number words',
    bare: true,
    maxlength: 500,
    placeholder: 'name it',
  }),
  select({
    at: `trends.${trend}.read_off.${nth}.group`,
    label: `Line read at ${said}`,
    find: 'read off number group',
    bare: true,
    off: unless(() => groups.length > 0, 'There is one line.'),
    options: () => [{ value: null, label: 'every line' }, ...groups],
  }),
]

const isFree = unless(
  ({ document }) => document.readings.place === 'free',
  'The readings stand where there is room.',
)

export const READINGS: Control[] = [
  choice<FigureDocument['readings']['place']>({
    at: 'readings.place',
    label: 'Position',
    find: 'readings equation position box',
    options: [
      { value: 'auto', label: 'in one box' },
      { value: 'lines', label: 'beside their lines' },
      { value: 'free', label: 'where they were dragged' },
    ],
  }),
  share({ at: 'readings.x', label: 'x position', find: 'readings place', off: isFree }),
  share({ at: 'readings.y', label: 'y position', find: 'readings place', off: isFree }),
]
