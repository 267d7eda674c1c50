/** The words round the figure, its legend, its page. */
import type { FigureDocument } from '@/api/types'
import { titled } from '@/render/text/titled'
import type { Path } from '@/figure-model/path'
import { showAt, UNITS, VENUES } from '@/figure-model/venues'
import {
  choice,
  colour,
  place,
  select,
  share,
  text,
  isDate,
  unless,
  type Control,
  type Scope,
} from './control'

const words = (part: 'title' | 'subtitle' | 'caption', label: string, none: string): Control =>
  text({
    at: part,
    label,
    find: 'heading text words',
    maxlength: part === 'caption' ? 4000 : 500,
    placeholder: none,
    live: true,
    read: ({ document }) => document[part] ?? '',
    write: (draft, said) => (draft[part] = said.trim() === '' ? null : said),
  })

export const WORDS: Control[] = [
  words('title', 'Title', 'No title'),
  words('subtitle', 'Subtitle', 'No subtitle'),
  words('caption', 'Caption', 'No caption'),
]

export const VENUE = choice<FigureDocument['page']['venue']>({
  at: 'page.venue',
  label: 'Venue',
  find: 'size slide paper column poster',
  options: [
    ...VENUES.map(({ venue, label }) => ({ value: venue, label })),
    { value: 'own', label: 'custom size' },
  ],
  write: (draft, name) => {
    const venue = VENUES.find((one) => one.venue === name)
    if (venue) showAt(draft, venue)
    else draft.page.venue = 'own'
  },
})

/** Width and height, in a unit of one's own. */
export const pageSides = (unit: keyof typeof UNITS): Control[] =>
  (['width', 'height'] as const).map((side) =>
    place({
      at: `page.${side}`,
      label: side === 'width' ? 'Width' : 'Height',
      find: 'page size',
      off: unless(
        ({ document }) => document.page.venue === 'own',
        'The size comes from the venue: choose custom size to type your own.',
      ),
      read: ({ document }) => Number((document.page[side] / UNITS[unit]).toFixed(2)),
      write: (draft, value) => (draft.page[side] = (value ?? 10) * UNITS[unit]),
      check: (value) => {
        const points = (value ?? 0) * UNITS[unit]
        return points >= 72 && points <= 7200
          ? ''
          : 'Type a width and a height from 1 to 100 inches.'
      },
    }),
  )

export const TEXT_SIZE = share({
  at: 'type.scale',
  label: 'Text size',
  find: 'bigger larger font',
  min: 50,
  max: 250,
  step: 5,
})

export const PAGE: Control[] = [
  colour({ at: 'page.background', label: 'Background', find: 'paper colour' }),
  colour({ at: 'page.frame', label: 'Page border', find: 'border', none: 'no border' }),
]

const isFree = unless(
  ({ document }) => document.legend.place === 'free',
  'The legend stands where there is room.',
)

export const standardLegend = ({ drawn }: Scope): string => {
  const variable = drawn?.answer.colour?.variable
  return variable ? titled(variable) : ''
}

export const LEGEND: Control[] = [
  text({
    at: 'legend.title',
    label: 'Title of the legend',
    find: 'key heading',
    maxlength: 500,
    live: true,
    read: (scope) => scope.document.legend.title ?? standardLegend(scope),
    write: (draft, said, scope) =>
      (draft.legend.title = said === standardLegend(scope) ? null : said),
  }),
  select({
    at: 'legend.place',
    label: 'Position',
    find: 'legend key position hide move top bottom below above left right inside outside',
    options: () => [
      { value: 'auto', label: 'where there is room' },
      { value: 'inside', label: 'inside, in the emptiest corner' },
      { value: 'right', label: 'right of the plot' },
      { value: 'below', label: 'below the plot' },
      { value: 'free', label: 'where it was dragged' },
      { value: 'none', label: 'not shown' },
    ],
  }),
  share({ at: 'legend.x', label: 'x position', find: 'legend place', off: isFree }),
  share({ at: 'legend.y', label: 'y position', find: 'legend place', off: isFree }),
]

export function noteControls(note: number): Control[] {
  const own = ({ document }: Scope) => document.notes[note]
  const onPage = unless((scope) => own(scope)?.anchor === 'page', 'The note stands on the plot.')
  return [
    text({
      at: `notes.${note}.text`,
      label: 'Text',
      find: 'note annotation words',
      maxlength: 500,
      live: true,
    }),
    share({ at: `notes.${note}.x`, label: 'x position', find: 'note place', off: onPage }),
    share({ at: `notes.${note}.y`, label: 'y position', find: 'note place', off: onPage }),
  ]
}

/** What a note points to, in the terms of the axes. */
export const pointerControls = (note: number): Control[] =>
  (['x', 'y'] as const).map((axis, i) =>
    place({
      at: `notes.${note}.points_to.${i}` as Path,
      label: i === 0 ? 'Points to x' : 'and y',
      find: 'note arrow pointer line',
      off: unless(
        ({ document }) => Boolean(document.notes[note]?.points_to),
        'The note points to nothing.',
      ),
      isDate: isDate(axis),
      check: (value) => (value === null ? 'Type where it points to.' : ''),
    }),
  )
