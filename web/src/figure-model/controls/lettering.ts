/** How the words of one part of a figure are written. */
import { blankLettering } from '@/figure-model/blank'
import type { Lettering } from '@/api/types'
import type { Written } from '@/render/text/lettering'
import { choice, colour, share, type Control, type Scope } from './control'

/** The parts whose words have a hand of their own, and what that is called. */
export const WRITTEN: Partial<Record<Written, string>> = {
  title: 'the title',
  subtitle: 'the subtitle',
  caption: 'the caption',
  tick_labels: 'tick labels',
  axis_titles: 'axis titles',
  legend: 'the legend',
  readings: 'readings',
  names: 'labels',
  notes: 'notes',
}

export function letteringControls(part: Written): Control[] {
  const of = WRITTEN[part] ?? part
  const own = ({ document }: Scope): Lettering => ({
    ...blankLettering(),
    ...document.type.parts[part],
  })
  const set =
    <Name extends keyof Lettering>(name: Name) =>
    (draft: Scope['document'], value: Lettering[Name], scope: Scope): void => {
      draft.type.parts[part] = { ...own(scope), [name]: value }
    }
  return [
    share({
      at: `type.parts.${part}`,
      label: `Size of ${of}`,
      find: 'bigger text font larger smaller',
      min: 50,
      max: 250,
      step: 5,
      read: (scope) => own(scope).size,
      write: set('size'),
    }),
    choice<Lettering['face']>({
      at: `type.parts.${part}`,
      label: `Font of ${of}`,
      find: 'font serif mono',
      options: [
        { value: 'sans', label: 'sans' },
        { value: 'serif', label: 'serif' },
        { value: 'mono', label: 'monospace' },
      ],
      read: (scope) => own(scope).face,
      write: set('face'),
    }),
    choice<Lettering['weight']>({
      at: `type.parts.${part}`,
      label: `Weight of ${of}`,
      find: 'bold font',
      options: [
        { value: null, label: 'default' },
        { value: 400, label: 'regular' },
        { value: 600, label: 'bold' },
      ],
      read: (scope) => own(scope).weight,
      write: set('weight'),
    }),
    colour({
      at: `type.parts.${part}`,
      label: `Colour of ${of}`,
      find: 'font text',
      none: 'default',
      read: (scope) => own(scope).colour,
      write: set('colour'),
    }),
  ]
}
