/** A box of three axes: how it is seen, what its walls carry, and the plane in it. */
import type { FigureDocument } from '@/api/types'
import { MOST_LINES } from '@/render/parts/space/plane'
import {
  choice,
  colour,
  level,
  points,
  share,
  slider,
  toggle,
  unless,
  type Control,
  type Scope,
} from './control'

type Space = NonNullable<FigureDocument['space']>
type Wall = Space['shadows'][number]

const degrees = (value: number): string => `${value}°`
const few = unless(
  ({ drawn }) => (drawn?.marks.row.length ?? 0) <= MOST_LINES,
  `More than ${MOST_LINES} marks: lines would cover everything.`,
)

export const TURN: Control[] = [
  slider({
    at: 'space.turn.around',
    label: 'Azimuth',
    find: 'rotate angle turn spin azimuth',
    min: -180,
    max: 180,
    text: degrees,
    read: ({ document }) => Math.round(document.space!.turn.around),
  }),
  slider({
    at: 'space.turn.above',
    label: 'Elevation',
    find: 'rotate angle tilt elevation',
    min: -90,
    max: 90,
    text: degrees,
    read: ({ document }) => Math.round(document.space!.turn.above),
  }),
  share({
    at: 'space.closeness',
    label: 'Zoom',
    find: 'zoom nearer bigger box',
    min: 30,
    max: 800,
    step: 5,
  }),
  share({
    at: 'space.perspective',
    label: 'Perspective',
    find: 'parallel orthographic near far',
    step: 5,
    text: (percent) => (percent ? `${percent} %` : 'parallel'),
  }),
]

export const DEPTH: Control[] = [
  share({
    at: 'space.fade',
    label: 'Fade with distance',
    find: 'depth fog fade',
    step: 5,
  }),
  share({
    at: 'space.shrink',
    label: 'Shrink with distance',
    find: 'depth size',
    max: 90,
    step: 5,
  }),
  share({ at: 'space.jitter', label: 'Jitter in depth', find: 'spread random overlap' }),
]

const shadow = (wall: Wall, label: string): Control =>
  toggle({
    at: 'space.shadows',
    label,
    find: 'shadow projection wall',
    read: ({ document }) => document.space!.shadows.includes(wall),
    write: ({ space }, isThere) => {
      space!.shadows = [...space!.shadows.filter((one) => one !== wall), ...(isThere ? [wall] : [])]
    },
  })

export const SHADOWS: Control[] = [
  shadow('floor', 'Shadows on the floor'),
  shadow('back', 'Shadows on the back wall'),
  shadow('side', 'Shadows on the side wall'),
]

export const WALLS: Control[] = [
  choice<Space['walls']>({
    at: 'space.walls',
    label: 'Walls',
    find: 'grid lines background',
    options: [
      { value: 'grid', label: 'with gridlines' },
      { value: 'plain', label: 'plain' },
      { value: 'none', label: 'none' },
    ],
  }),
  choice<Space['drops']>({
    at: 'space.drops',
    label: 'Lines to the floor',
    find: 'drop stem',
    options: [
      { value: 'none', label: 'none' },
      { value: 'singled', label: 'from highlighted points' },
      { value: 'all', label: 'from all' },
    ],
  }),
]

const hasPlane = unless(
  ({ document }: Scope) => Boolean(document.space?.plane),
  'There is no plane.',
)

export const PLANE_LEVEL = level({
  at: 'space.plane.level',
  label: 'Confidence level, %',
  find: 'plane confidence interval percent',
  off: hasPlane,
})

export const PLANE: Control[] = [
  choice<NonNullable<Space['plane']>['degree']>({
    at: 'space.plane.degree',
    label: 'Surface',
    find: 'plane quadratic curved second degree regression',
    options: [
      { value: 1, label: 'a plane' },
      { value: 2, label: 'quadratic' },
    ],
    off: hasPlane,
  }),
  choice({
    at: 'space.plane.grid',
    label: 'Surface grid',
    find: 'plane grid mesh',
    options: [
      { value: true, label: 'drawn' },
      { value: false, label: 'not drawn' },
    ],
    off: hasPlane,
  }),
  slider({
    at: 'space.plane.width',
    label: 'Grid line width',
    find: 'plane grid',
    min: 0.25,
    max: 4,
    step: 0.25,
    text: points,
    off: hasPlane,
  }),
  share({
    at: 'space.plane.fill',
    label: 'Surface opacity',
    find: 'plane opacity transparent',
    off: hasPlane,
  }),
  colour({
    at: 'space.plane.colour',
    label: 'Colour of the plane',
    find: 'plane',
    none: 'its group’s',
    off: hasPlane,
  }),
  choice({
    at: 'space.plane.residuals',
    label: 'Residual lines',
    find: 'plane residual distance',
    options: [
      { value: false, label: 'none' },
      { value: true, label: 'from every mark' },
    ],
    off: (scope) => hasPlane(scope) || few(scope),
  }),
  slider({
    at: 'space.plane.digits',
    label: 'Digits of the equation',
    find: 'plane decimals precision significant',
    min: 0,
    max: 10,
    read: ({ document }) => document.space?.plane?.digits ?? 0,
    text: (digits) => (digits ? String(digits) : 'as few as land on it'),
    write: (draft, digits) => (draft.space!.plane!.digits = digits || null),
    off: hasPlane,
  }),
]
