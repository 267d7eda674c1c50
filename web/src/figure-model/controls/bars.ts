/** Error bars along an axis. */
import { blankBar } from '@/figure-model/blank'
import type { FigureDocument } from '@/api/types'
import {
  choice,
  ofRows,
  place,
  points,
  select,
  slider,
  type Control,
  type Option,
  type Scope,
} from './control'

type Kind = NonNullable<FigureDocument['error_bars']['x']>['kind']

const KINDS: Option<Kind | null>[] = [
  { value: null, label: 'none' },
  { value: 'variable', label: 'a variable' },
  { value: 'two', label: 'two: below, above' },
  { value: 'fixed', label: 'an amount' },
  { value: 'share', label: 'a share' },
]
const BEGINNING: Partial<Record<Kind, number>> = { share: 0.05, fixed: 1 }

const numbers = ({ variables }: Scope): Option<string>[] =>
  variables
    .filter(({ kind }) => kind === 'number')
    .map(({ name, label }) => ({ value: name, label }))

const notBelow = (value: number | null): string =>
  value !== null && value < 0 ? 'An error bar cannot be negative.' : ''

export function barControls(axis: 'x' | 'y'): Record<
  'kind' | 'first' | 'second' | 'amount',
  Control
> & {
  lines: Control[]
} {
  const bar = ({ document }: Scope) => document.error_bars[axis]
  const onlyFor =
    (...kinds: Kind[]) =>
    (scope: Scope): string =>
      kinds.some((kind) => bar(scope)?.kind === kind) ? '' : `There are no ${axis} error bars.`
  return {
    kind: choice({
      at: `error_bars.${axis}`,
      label: `${axis} error bars`,
      find: 'uncertainty whiskers standard deviation',
      options: KINDS,
      off: ofRows(bar),
      read: (scope) => bar(scope)?.kind ?? null,
      write: (draft, kind, scope) => {
        const before = bar(scope)
        const first = before?.below ?? numbers(scope).at(-1)?.value ?? null
        draft.error_bars[axis] =
          kind === null
            ? null
            : {
                ...(before ?? blankBar()),
                kind,
                below: first,
                above: before?.above ?? first,
                amount: BEGINNING[kind] ?? 0,
              }
      },
    }),
    first: select({
      at: `error_bars.${axis}.below`,
      label: `${axis} bar length`,
      find: 'error bars below',
      options: numbers,
      off: onlyFor('variable', 'two'),
    }),
    second: select({
      at: `error_bars.${axis}.above`,
      label: axis === 'y' ? 'y bar length above' : 'x bar length to the right',
      find: 'error bars',
      options: numbers,
      off: onlyFor('two'),
    }),
    amount: place({
      at: `error_bars.${axis}.amount`,
      label: `${axis} bar amount (a share in %)`,
      find: 'error bars fixed share percent',
      read: (scope) => {
        const own = bar(scope)
        return own?.kind === 'share' ? own.amount * 100 : (own?.amount ?? 0)
      },
      write: (draft, value) => {
        const own = draft.error_bars[axis]!
        own.amount = own.kind === 'share' ? (value ?? 0) / 100 : (value ?? 0)
      },
      check: notBelow,
      off: onlyFor('fixed', 'share'),
    }),
    lines: [
      slider({
        at: `error_bars.${axis}.cap`,
        label: `${axis} whisker cap`,
        find: 'error bars end',
        min: 0,
        max: 20,
        text: points,
        off: (scope) => (bar(scope) ? '' : `There are no ${axis} error bars.`),
      }),
      slider({
        at: `error_bars.${axis}.width`,
        label: `${axis} bar line width`,
        find: 'error bars width',
        min: 0.25,
        max: 4,
        step: 0.25,
        text: points,
        off: (scope) => (bar(scope) ? '' : `There are no ${axis} error bars.`),
      }),
    ],
  }
}
