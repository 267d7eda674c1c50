/** A reference line or a shaded range on an axis. */
import type { FigureDocument } from '@/api/types'
import { homeView } from '@/render/layout/extents'
import { isDate, place, select, unless, words, type Control, type Scope } from './control'

type Reference = FigureDocument['references'][number]

const KINDS: { value: Reference['at']; label: string }[] = [
  { value: 'value', label: 'at a value' },
  { value: 'mean', label: 'at the mean' },
  { value: 'median', label: 'at the median' },
  { value: 'range', label: 'a shaded range' },
  { value: 'identity', label: 'y = x' },
]

const needed = (value: number | null): string => (value === null ? 'Type a value.' : '')
const above = (low: number | null, value: number | null): string =>
  value === null || (low !== null && value <= low)
    ? 'The end of a range must be above its start.'
    : ''

export function referenceControls(nth: number, axis: 'x' | 'y') {
  const own = ({ document }: Scope): Reference | undefined => document.references[nth]
  const of = `of reference line ${nth + 1}`
  const isRange = unless((scope) => own(scope)?.at === 'range', 'It is a line, not a range.')
  return {
    where: select({
      at: `references.${nth}.at`,
      label: 'Where',
      find: 'reference line threshold limit mean median target horizontal vertical',
      bare: true,
      options: () => KINDS,
      // A line at a value starts in the middle of the axis, where it is seen.
      write: (draft, kind, { drawn }) => {
        const [low, high] = drawn ? homeView(drawn)[axis] : [0, 1]
        const seen = (share: number): number => Number((low + (high - low) * share).toPrecision(3))
        Object.assign(draft.references[nth], {
          at: kind,
          axis: kind === 'identity' ? 'both' : axis,
          value: kind === 'value' ? seen(0.5) : kind === 'range' ? seen(0.4) : null,
          high: kind === 'range' ? seen(0.6) : null,
        })
      },
    }),
    ends: [
      place({
        at: `references.${nth}.value`,
        label: 'Value',
        find: of,
        off: unless(
          (scope) => own(scope)?.at === 'value',
          'This line is at the mean or the median, not at a value.',
        ),
        isDate: isDate(axis),
        check: needed,
      }),
      place({
        at: `references.${nth}.value`,
        label: 'From',
        find: of,
        off: isRange,
        isDate: isDate(axis),
        check: needed,
      }),
      place({
        at: `references.${nth}.high`,
        label: 'To',
        find: of,
        off: isRange,
        isDate: isDate(axis),
        check: (value, scope) => above(own(scope)!.value ?? null, value),
      }),
    ] as Control[],
    label: words({
      at: `references.${nth}.label`,
      label: 'Label',
      find: `words ${of}`,
      maxlength: 500,
    }),
  }
}
