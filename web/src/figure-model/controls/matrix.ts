/** A scatterplot matrix: its regions, its order, and how its marks look. */
import { setFamily } from '@/figure-model/blank'
import type { FigureDocument } from '@/api/types'
import { ABOVE_BELOW, DIAGONALS } from '@/figure-model/statement/options'
import { choice, points, select, share, slider, type Control, type Scope } from './control'
import { formsOf } from './trends'

type Matrix = NonNullable<FigureDocument['matrix']>

const shows =
  (content: Matrix['below'], why: string) =>
  ({ document: { matrix } }: Scope): string =>
    [matrix?.below, matrix?.above].includes(content) ? '' : why

export const REGIONS: Control[] = [
  choice({ at: 'matrix.below', label: 'Below the diagonal', options: ABOVE_BELOW }),
  choice({ at: 'matrix.above', label: 'Above the diagonal', options: ABOVE_BELOW }),
  select({
    at: 'matrix.trend.family',
    label: 'Trend in the cells',
    find: 'fit line regression',
    options: formsOf,
    write: (draft, family) => setFamily(draft.matrix!.trend, family!),
    off: shows('trend', 'No region shows points with a trend.'),
  }),
  choice<Matrix['r_as']>({
    at: 'matrix.r_as',
    label: 'r is drawn as',
    find: 'correlation ellipse number',
    options: [
      { value: 'number', label: 'a number' },
      { value: 'ellipse', label: 'an ellipse' },
    ],
    off: shows('r', 'No region shows r.'),
  }),
  choice({ at: 'matrix.diagonal', label: 'On the diagonal', options: DIAGONALS }),
  choice({
    at: 'matrix.names',
    label: 'Variables on the diagonal',
    options: [
      { value: true, label: 'named' },
      { value: false, label: 'not named' },
    ],
  }),
  choice<Matrix['order']>({
    at: 'matrix.order',
    label: 'Order',
    find: 'sort variables cluster',
    options: [
      { value: 'own', label: 'as they are listed' },
      { value: 'together', label: 'as they go together' },
    ],
  }),
  choice<Matrix['missing']>({
    at: 'matrix.missing',
    label: 'Rows shown',
    find: 'missing complete pairwise',
    options: [
      { value: 'pairwise', label: 'each pair’s own rows' },
      { value: 'complete', label: 'complete rows only' },
    ],
  }),
  choice<Matrix['axes']>({
    at: 'matrix.axes',
    label: 'Axes',
    options: [
      { value: 'outer', label: 'on the outer edge' },
      { value: 'none', label: 'none' },
    ],
  }),
]

const orByItself = (percent: number): string => (percent ? `${percent} %` : 'by itself')

export const MARKS_OF_MATRIX: Control[] = [
  slider({
    at: 'marks.size',
    label: 'Size of marks',
    min: 1,
    max: 24,
    step: 0.5,
    text: points,
  }),
  share({
    at: 'marks.opacity',
    label: 'Opacity',
    min: 2,
    read: ({ document }) => document.marks.opacity ?? 0.7,
    text: (percent, { document }) =>
      document.marks.opacity === null ? 'from the crowding' : `${percent} %`,
  }),
  share({ at: 'jitter.x', label: 'Jitter x', text: orByItself }),
  share({ at: 'jitter.y', label: 'Jitter y', text: orByItself }),
]
