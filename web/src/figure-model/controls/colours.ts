/** How a variable becomes colours. */
import { RAMPS } from '@/render/colours'
import { valueText } from '@/render/geometry/ticks'
import { canBeEither } from '@/figure-model/statement/options'
import { choice, place, unless, type Control, type Scope } from './control'

const variable = ({ document, variables }: Scope) =>
  variables.find(({ name }) => name === document.colour?.variable) ?? null
const isDate = (scope: Scope): boolean => variable(scope)?.kind === 'date'
const shade = ({ drawn }: Scope) => drawn?.answer.colour ?? null
const isAmount = unless(
  (scope) => shade(scope)?.scale === 'amount',
  'Colour does not show a number.',
)
const hint = (value: number | null | undefined): string => (value == null ? '' : valueText(value))

export const SCALE_OF_COLOUR = choice({
  at: 'colour.scale',
  label: 'Colour shows',
  find: 'category amount continuous',
  options: [
    { value: 'amount', label: 'an amount' },
    { value: 'category', label: 'a category' },
  ],
  read: (scope) => shade(scope)?.scale ?? 'amount',
  off: unless(
    (scope) => canBeEither(variable(scope)),
    'The variable holds one type of value only.',
  ),
})

export const RAMP = choice({
  at: 'colour.ramp',
  label: 'Colours of amounts',
  find: 'gradient ramp scale',
  options: (Object.keys(RAMPS) as (keyof typeof RAMPS)[]).map((value) => ({ value, label: value })),
  off: isAmount,
})

export const DIRECTION_OF_COLOUR = choice({
  at: 'colour.reversed',
  label: 'Direction of the colours',
  find: 'reverse flip',
  options: [
    { value: false, label: 'pale to deep' },
    { value: true, label: 'reversed' },
  ],
  off: isAmount,
})

export const ENDS_OF_COLOUR: Control[] = [
  place({
    at: 'colour.low',
    label: 'From',
    find: 'minimum colour limit',
    placeholder: (scope) => hint(shade(scope)?.low),
    isDate,
    off: isAmount,
  }),
  place({
    at: 'colour.high',
    label: 'To',
    find: 'maximum colour limit',
    placeholder: (scope) => hint(shade(scope)?.high),
    isDate,
    off: isAmount,
  }),
]

export const MIDDLE_AND_STEPS: Control[] = [
  place({
    at: 'colour.middle',
    label: 'Middle',
    find: 'centre of the colours',
    placeholder: () => 'half-way',
    isDate,
    off: (scope) =>
      isAmount(scope) ||
      (scope.document.colour?.ramp === 'tide' ? '' : 'These colours have no middle.'),
  }),
  choice({
    at: 'colour.steps',
    label: 'Steps',
    find: 'classes bins of colour',
    options: [null, 3, 4, 5, 7, 9].map((value) => ({
      value,
      label: value === null ? 'continuous' : String(value),
    })),
    off: isAmount,
  }),
]
