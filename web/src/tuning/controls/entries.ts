/** A category on this figure: its entry in the legend, and a look of its own. */
import { blankOwnLook } from '@/api/blank'
import type { OwnLook } from '@/api/types'
import { colour, shape, share, text, toggle, unless, type Control, type Scope } from './control'

export function entryControls(entry: string) {
  const own = ({ document }: Scope): OwnLook => ({
    ...blankOwnLook(),
    ...document.marks.each[entry],
  })
  const look =
    <Name extends keyof OwnLook>(name: Name) =>
    (draft: Scope['document'], value: OwnLook[Name], scope: Scope): void => {
      draft.marks.each[entry] = { ...own(scope), [name]: value }
    }
  const put = (list: string[], isIn: boolean): string[] => [
    ...list.filter((one) => one !== entry),
    ...(isIn ? [entry] : []),
  ]
  return {
    name: text({
      at: 'legend.renamed',
      label: `Entry ${entry}`,
      find: 'legend key rename category words',
      bare: true,
      maxlength: 500,
      read: ({ document }) => document.legend.renamed[entry] ?? entry,
      write: ({ legend: { renamed } }, said) => {
        if (said.trim() === '' || said === entry) Reflect.deleteProperty(renamed, entry)
        else renamed[entry] = said
      },
    }),
    shown: toggle({
      at: 'legend.hidden',
      label: `Show ${entry} in the legend`,
      find: 'key hide entry',
      words: ['shown', 'out'],
      read: ({ document }) => !document.legend.hidden.includes(entry),
      write: ({ legend }, isShown) => (legend.hidden = put(legend.hidden, !isShown)),
    }),
    look: [
      shape({
        at: 'marks.each',
        label: `Marker of ${entry}`,
        find: 'shape symbol group',
        none: 'as the others',
        read: (scope) => own(scope).shape,
        write: (draft, value, scope) => look('shape')(draft, value as OwnLook['shape'], scope),
      }),
      share({
        at: 'marks.each',
        label: `Size of ${entry}`,
        find: 'bigger smaller dots group',
        min: 30,
        max: 400,
        step: 5,
        off: unless(({ document }) => !document.size, 'A variable gives the size of the marks.'),
        read: (scope) => own(scope).size,
        write: look('size'),
      }),
      colour({
        at: 'marks.each',
        label: `Colour of ${entry}`,
        find: 'group category',
        none: 'the study’s',
        read: (scope) => own(scope).colour,
        write: look('colour'),
      }),
    ] as Control[],
    front: toggle({
      at: 'marks.front',
      label: `Draw in front: ${entry}`,
      find: 'order above hidden behind top',
      words: ['Draw in front', 'Draw in front'],
      read: ({ document }) => document.marks.front.at(-1) === entry,
      write: ({ marks }, isFront) => (marks.front = put(marks.front, isFront)),
    }),
  }
}
