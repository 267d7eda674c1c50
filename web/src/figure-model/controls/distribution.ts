/** A distribution: as what it is shown, its bins, its density, its middle. */
import type { FigureDocument } from '@/api/types'
import { valueText } from '@/render/geometry/ticks'
import { choice, level, ofRows, slider, unless, type Control, type Scope } from './control'

type Held = NonNullable<FigureDocument['distribution']>

const held = ({ document }: Scope): Held => document.distribution!
const answered = ({ drawn }: Scope) => drawn?.answer.distribution ?? null

/** The range of the values, which sliders of widths go by. */
const range = ({ drawn }: Scope): number => {
  const { low, high } = drawn?.answer.y ?? {}
  return (high ?? 1) - (low ?? 0) || 1
}

/** Round widths in a decade; a slider goes through three decades of them. */
const ROUND = [1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8]
const STEPS = 3 * ROUND.length
/** The place of a bin's edge within its width, in shares of a hundred. */
const PARTS = 99

const widthAt = (scope: Scope, step: number): number => {
  const decade = Math.floor(Math.log10(range(scope))) - 3 + Math.floor(step / ROUND.length)
  return Number(`${ROUND[step % ROUND.length]}e${decade}`)
}
const stepAt = (scope: Scope, width: number): number => {
  let best = 0
  const off = (step: number): number => Math.abs(Math.log(widthAt(scope, step) / width))
  for (let step = 0; step <= STEPS; step++) if (off(step) < off(best)) best = step
  return best
}

const hasBars = unless((scope) => held(scope).histogram, 'No histogram is shown.')
const hasDensity = unless((scope) => held(scope).density, 'No density is shown.')
const hasShape = unless(
  (scope) => held(scope).histogram || held(scope).density,
  'Show a histogram or a density first.',
)
const isGrouped = unless((scope) => held(scope).by !== null, 'There is one group.')
const hasMiddle = unless((scope) => held(scope).middle !== 'none', 'No middle is marked.')

const yes = (label: string, at: 'histogram' | 'density' | 'box', find: string): Control =>
  choice({
    at: `distribution.${at}`,
    label,
    find,
    options: [
      { value: true, label: 'shown' },
      { value: false, label: 'not shown' },
    ],
  })

export const SHOWN: Control[] = [
  choice<Held['points']>({
    at: 'distribution.points',
    label: 'Points',
    find: 'dots jitter strip stacked raw data',
    options: [
      { value: 'none', label: 'none' },
      { value: 'jittered', label: 'jittered' },
      { value: 'dots', label: 'stacked' },
      { value: 'shaped', label: 'density-shaped' },
    ],
    off: ofRows((scope) => held(scope).points !== 'none'),
  }),
  yes('Histogram', 'histogram', 'bars bins frequency'),
  yes('Density', 'density', 'curve kernel smooth'),
  yes('Box', 'box', 'quartiles whiskers outliers median'),
]

export const LANES: Control[] = [
  choice({
    at: 'distribution.lying',
    label: 'Orientation',
    find: 'horizontal vertical lying upright flip turn',
    options: [
      { value: false, label: 'vertical' },
      { value: true, label: 'horizontal' },
    ],
  }),
  choice({
    at: 'distribution.together',
    label: 'Arrangement',
    find: 'overlay side by side one axis lanes',
    options: [
      { value: false, label: 'separate rows' },
      { value: true, label: 'overlaid' },
    ],
    off: isGrouped,
  }),
  choice<Held['order']>({
    at: 'distribution.order',
    label: 'Order',
    find: 'sort categories',
    options: [
      { value: 'study', label: 'the study’s' },
      { value: 'name', label: 'by name' },
      { value: 'median', label: 'by median' },
    ],
    off: isGrouped,
  }),
  choice<Held['measure']>({
    at: 'distribution.measure',
    label: 'Height shows',
    find: 'counts shares percent frequency relative',
    options: [
      { value: 'counts', label: 'rows' },
      { value: 'shares', label: 'share within group' },
    ],
    off: hasShape,
  }),
]

export const BINS: Control[] = [
  slider({
    at: 'distribution.bin_width',
    label: 'Bin width',
    find: 'histogram bins number size',
    min: 0,
    max: STEPS,
    read: (scope) => stepAt(scope, held(scope).bin_width ?? answered(scope)?.bin_width ?? 1),
    text: (step, scope) =>
      valueText(held(scope).bin_width ?? answered(scope)?.bin_width ?? widthAt(scope, step)) +
      (held(scope).bin_width === null ? ', a good one' : ''),
    write: (draft, step, scope) => (draft.distribution!.bin_width = widthAt(scope, step)),
    off: hasBars,
  }),
  slider({
    at: 'distribution.bin_start',
    label: 'Bin start',
    find: 'histogram bins origin shift',
    min: 0,
    max: PARTS,
    read: (scope) => {
      const width = held(scope).bin_width ?? answered(scope)?.bin_width ?? 1
      const start = held(scope).bin_start ?? 0
      return Math.round(((((start % width) + width) % width) / width) * 100)
    },
    text: (_, scope) =>
      held(scope).bin_start === null ? 'a round place' : valueText(held(scope).bin_start!),
    write: (draft, step, scope) => {
      const width = draft.distribution!.bin_width ?? answered(scope)?.bin_width ?? 1
      draft.distribution!.bin_start =
        step === 0 ? null : Number(((step / 100) * width).toPrecision(6))
    },
    off: hasBars,
  }),
  slider({
    at: 'distribution.bandwidth',
    label: 'Density bandwidth',
    find: 'smoothness kernel smoothing',
    min: 0,
    max: STEPS,
    read: (scope) => stepAt(scope, held(scope).bandwidth ?? answered(scope)?.bandwidth ?? 1),
    text: (step, scope) =>
      valueText(
        Number(
          (held(scope).bandwidth ?? answered(scope)?.bandwidth ?? widthAt(scope, step)).toPrecision(
            3,
          ),
        ),
      ) + (held(scope).bandwidth === null ? ', found' : ''),
    write: (draft, step, scope) => (draft.distribution!.bandwidth = widthAt(scope, step)),
    off: hasDensity,
  }),
]

export const MIDDLE: Control[] = [
  choice<Held['middle']>({
    at: 'distribution.middle',
    label: 'Centre and its interval',
    find: 'mean median average confidence',
    options: [
      { value: 'none', label: 'not marked' },
      { value: 'mean', label: 'mean' },
      { value: 'median', label: 'median' },
    ],
  }),
  level({
    at: 'distribution.level',
    label: 'Confidence level, %',
    find: 'confidence interval percent mean median',
    off: hasMiddle,
  }),
]
