/** A category on this figure: its entry in the legend, and a look of its own. */
import { blankOwnLook } from '@/figure-model/blank'
import type { OwnLook } from '@/api/types'
import { isNameOf, ofEntry, withEntry, withoutNameOf, type CategoryEntry } from '@/render/entries'
import { colour, shape, share, text, toggle, unless, type Control, type Scope } from './control'

export function entryControls(entry: CategoryEntry) {
  const { label } = entry
  const own = ({ document }: Scope): OwnLook => ({
    ...blankOwnLook(),
    ...ofEntry(document.marks.each, entry),
  })
  const look =
    <Name extends keyof OwnLook>(name: Name) =>
    (draft: Scope['document'], value: OwnLook[Name], scope: Scope): void => {
      const changed = { ...own(scope), [name]: value }
      draft.marks.each = withEntry(draft.marks.each, entry, changed)
    }
  const put = (list: string[], isIn: boolean): string[] => [
    ...list.filter((name) => !isNameOf(name, entry)),
    ...(isIn ? [entry.value] : []),
  ]
  return {
    name: text({
      at: 'legend.renamed',
      label: `Entry ${label}`,
      find: 'legend key rename category words',
      bare: true,
      maxlength: 500,
      read: ({ document }) => ofEntry(document.legend.renamed, entry) ?? label,
      write: ({ legend }, said) => {
        legend.renamed =
          said.trim() === '' || said === label
            ? withoutNameOf(legend.renamed, entry)
            : withEntry(legend.renamed, entry, said)
      },
    }),
    shown: toggle({
      at: 'legend.hidden',
      label: `Show ${label} in the legend`,
      find: 'key hide entry',
      words: ['shown', 'out'],
      read: ({ document }) => !document.legend.hidden.some((name) => isNameOf(name, entry)),
      write: ({ legend }, isShown) => (legend.hidden = put(legend.hidden, !isShown)),
    }),
    look: [
      shape({
        at: 'marks.each',
        label: `Marker of ${label}`,
        find: 'shape symbol group',
        none: 'as the others',
        read: (scope) => own(scope).shape,
        write: (draft, value, scope) => look('shape')(draft, value as OwnLook['shape'], scope),
      }),
      share({
        at: 'marks.each',
        label: `Size of ${label}`,
        find: 'bigger smaller dots group',
        min: 30,
        max: 400,
        step: 5,
        off: unless(
          ({ document }) => !document.size,
          'Size shows a variable, so it is not set by hand.',
        ),
        read: (scope) => own(scope).size,
        write: look('size'),
      }),
      colour({
        at: 'marks.each',
        label: `Colour of ${label}`,
        find: 'group category',
        none: 'the study’s',
        read: (scope) => own(scope).colour,
        write: look('colour'),
      }),
    ] as Control[],
    front: toggle({
      at: 'marks.front',
      label: `Draw in front: ${label}`,
      find: 'order above hidden behind top',
      words: ['Draw in front', 'Draw in front'],
      read: ({ document }) => isNameOf(document.marks.front.at(-1) ?? null, entry),
      write: ({ marks }, isFront) => (marks.front = put(marks.front, isFront)),
    }),
  }
}
