/** Marks: shape, size, colour, opacity, and what tells apart those that share a place. */
import { blankConnect } from '@/figure-model/blank'
import { opacityOf } from '@/render/marks/looks'
import {
  choice,
  colour,
  ofRows,
  points,
  select,
  shape,
  share,
  slider,
  unless,
  type Control,
  type Scope,
} from './control'

const variablesOf: Extract<Control, { kind: 'select' }>['options'] = ({ variables }) => [
  { value: null, label: 'none' },
  ...variables.map(({ name, label }) => ({ value: name, label })),
]

export const SHAPE_AND_TEXT: Control[] = [
  shape({ at: 'marks.shape', label: 'Marker', find: 'shape symbol points square triangle' }),
  select({
    at: 'marks.text',
    label: 'Text as marker',
    find: 'text label instead of marker',
    options: variablesOf,
  }),
]

export const SIZE_OF_ALL = slider({
  at: 'marks.size',
  label: 'Size',
  find: 'bigger smaller larger markers points dots marks',
  min: 1,
  max: 24,
  step: 0.5,
  text: points,
  off: unless(({ document }) => !document.size, 'Marks are sized by a variable.'),
})

export const LOOK: Control[] = [
  share({
    at: 'marks.opacity',
    label: 'Opacity',
    find: 'transparent see through alpha',
    min: 2,
    read: ({ document, drawn }) => opacityOf(document, drawn?.answer.counts.drawn ?? 0),
  }),
]

export const INSIDE_AND_OUTLINE: Control[] = [
  choice({
    at: 'marks.hollow',
    label: 'Fill',
    find: 'fill filled hollow open',
    options: [
      { value: false, label: 'solid' },
      { value: true, label: 'hollow' },
    ],
  }),
  slider({
    at: 'marks.outline',
    label: 'Outline',
    find: 'edge border stroke round marks',
    min: 0,
    max: 4,
    step: 0.25,
    read: ({ document }) => document.marks.outline?.width ?? 0,
    text: (width) => (width ? points(width) : 'thin white edge'),
    write: (draft, width, { document }) =>
      (draft.marks.outline = width
        ? { colour: document.marks.outline?.colour ?? '#1d2b2a', width }
        : null),
  }),
  colour({
    at: 'marks.outline.colour',
    label: 'Outline colour',
    find: 'edge border',
    none: 'as the fill',
    off: unless(({ document }) => document.marks.outline !== null, 'Marks have no outline.'),
  }),
]

export const COLOUR_OF_ALL = colour({
  at: 'marks.colour',
  label: 'Colour',
  find: 'fill paint',
  read: ({ document }) => document.marks.colour ?? '#006a64',
  off: unless(
    ({ document }) => !document.colour && document.y.length === 1,
    'Colour shows a variable, so it is not set by hand.',
  ),
})

const jitter = (axis: 'x' | 'y'): Control =>
  share({
    at: `jitter.${axis}`,
    label: axis === 'x' ? 'Jitter x' : 'Jitter y',
    find: 'overlap overplotting spread random',
    text: (percent) => `${percent} %`,
  })

export const SHARING_A_PLACE: Control[] = [
  jitter('x'),
  jitter('y'),
  choice({
    at: 'marks.density',
    label: 'Density shading',
    find: 'crowded overlap heat many',
    options: [
      { value: 'auto', label: 'where too many' },
      { value: 'on', label: 'always' },
      { value: 'off', label: 'never' },
    ],
  }),
]

export const BETWEEN_POINTS: Control[] = [
  choice({
    at: 'connect',
    label: 'Connecting line',
    find: 'line path join',
    options: [
      { value: null, label: 'none' },
      { value: 'straight', label: 'straight' },
      { value: 'smooth', label: 'smooth' },
      { value: 'steps', label: 'in steps' },
    ],
    off: ofRows(({ document }) => document.connect),
    read: ({ document }) => document.connect?.line ?? null,
    write: (draft, line) =>
      (draft.connect = line === null ? null : { ...(draft.connect ?? blankConnect()), line }),
  }),
  choice({
    at: 'connect.order',
    label: 'Order of connection',
    options: [
      { value: 'x', label: 'from left to right' },
      { value: 'rows', label: 'row order' },
    ],
    off: unless(({ document }) => document.connect !== null, 'The points are not connected.'),
  }),
]

const isBubble = unless(({ document }) => document.size !== null, 'No variable sizes the marks.')

export const LARGEST_BUBBLE = slider({
  at: 'size.largest',
  label: 'Largest bubble',
  find: 'size bigger smaller',
  min: 6,
  max: 120,
  text: points,
  off: isBubble,
})

export const BUBBLES: Control[] = [
  choice({
    at: 'size.measure',
    label: 'Size shows value as',
    find: 'area diameter bubble',
    options: [
      { value: 'area', label: 'area' },
      { value: 'diameter', label: 'diameter' },
    ],
    off: isBubble,
  }),
  choice({
    at: 'size.start',
    label: 'Size scale starts at',
    find: 'bubble zero smallest',
    options: [
      { value: 'zero', label: 'zero' },
      { value: 'smallest', label: 'smallest value' },
    ],
    off: isBubble,
  }),
]

const hasNames = ({ document }: Scope): boolean => document.names !== null

export const NAMES: Control[] = [
  choice({
    at: 'names.show',
    label: 'Labelled rows',
    find: 'names labels of points biggest bubbles outliers extremes',
    options: [
      { value: 'all', label: 'all' },
      { value: 'chosen', label: 'chosen ones' },
      { value: 'furthest', label: 'furthest from the trend' },
      { value: 'outermost', label: 'furthest from the middle' },
      { value: 'largest', label: 'largest' },
    ],
    off: unless(hasNames, 'The points have no labels.'),
  }),
  slider({
    at: 'names.count',
    label: 'Number of labels',
    find: 'how many names labels of points',
    min: 1,
    max: 60,
    text: String,
    off: unless(
      ({ document: { names } }) => names !== null && !['all', 'chosen'].includes(names.show),
      'As many labels are shown as rows were chosen.',
    ),
  }),
]

export const SIZE_OF_NAMES = slider({
  at: 'names.size',
  label: 'Text size of labels',
  find: 'bigger text names labels',
  min: 6,
  max: 24,
  step: 0.5,
  text: points,
  off: unless(hasNames, 'The points have no labels.'),
})
