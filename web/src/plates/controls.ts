/** The controls of a plate: what stands beside a letter, and the page. */
import type { PlateDocument } from '@/api/types'
import { PAPER, toHex } from '@/render/colours'
import { UNITS, VENUES } from '@/figure-model/venues'
import {
  choice,
  colour,
  place,
  points,
  share,
  slider,
  text,
  words,
  type Control,
} from '@/figure-model/controls/control'

export interface PlateScope {
  document: PlateDocument
  /** What stands beside each letter where no words were given. */
  headings: readonly string[]
}

/** Of a plate's own text and ink, where a venue's are for one figure. */
const OF_A_PLATE = 0.85
const MM = UNITS.mm

export const headingControl = (cell: number): Control<PlateScope> =>
  text<PlateScope>({
    at: `cells.${cell}.heading`,
    label: 'Panel title',
    find: 'heading letter panel title',
    maxlength: 500,
    placeholder: 'none',
    live: true,
    read: ({ document, headings }) => document.cells[cell].heading ?? headings[cell] ?? '',
  })

export const VENUE_OF_PLATE = choice<PlateDocument['page']['venue'], PlateScope>({
  at: 'page.venue',
  label: 'Venue',
  find: 'size slide paper column poster',
  options: [
    ...VENUES.map(({ venue, label }) => ({ value: venue, label })),
    { value: 'own', label: 'custom size' },
  ],
  write: (draft, name) => {
    const venue = VENUES.find((one) => one.venue === name)
    draft.page.venue = venue?.venue ?? 'own'
    if (!venue) return
    draft.page.width = venue.width
    draft.page.height = venue.height
    draft.text = Number((venue.text * OF_A_PLATE).toFixed(2))
    draft.ink = Number((venue.ink * OF_A_PLATE).toFixed(2))
  },
})

export const SIDES_OF_PLATE: Control<PlateScope>[] = (['width', 'height'] as const).map((side) =>
  place<PlateScope>({
    at: `page.${side}`,
    label: side === 'width' ? 'Width, mm' : 'Height, mm',
    find: 'page size',
    read: ({ document }) => Number((document.page[side] / MM).toFixed(1)),
    write: (draft, value) => {
      draft.page[side] = value! * MM
      draft.page.venue = 'own'
    },
    check: (value) =>
      value !== null && value * MM >= 72 && value * MM <= 7200
        ? ''
        : 'Type a width and a height from 25.4 to 2,540 mm.',
  }),
)

const size = (at: 'text' | 'ink', label: string, find: string): Control<PlateScope> =>
  share<PlateScope>({ at, label, find, min: 30, max: 300, step: 5 })

export const PAGE_OF_PLATE: Control<PlateScope>[] = [
  size('text', 'Text size of the plate', 'bigger larger font'),
  size('ink', 'Marks and lines', 'bigger dots thicker lines'),
  slider<PlateScope>({
    at: 'gap',
    label: 'Room between figures',
    find: 'space gap margin',
    min: 0,
    max: 60,
    text: points,
  }),
  words<PlateScope>({
    at: 'title',
    label: 'Title',
    find: 'heading text words',
    maxlength: 500,
    placeholder: 'No title',
    live: true,
  }),
  words<PlateScope>({
    at: 'caption',
    label: 'Caption',
    find: 'heading text words',
    maxlength: 4000,
    placeholder: 'No caption',
    live: true,
    lines: 3,
  }),
  colour<PlateScope>({
    at: 'page.background',
    label: 'Background',
    find: 'paper colour',
    write: (draft, value) => (draft.page.background = value ?? toHex(PAPER)),
  }),
]

/** All controls of a plate. */
export const plateControls = (document: PlateDocument): Control<PlateScope>[] => [
  ...document.cells.map((_, i) => headingControl(i)).slice(0, 1),
  VENUE_OF_PLATE,
  ...SIDES_OF_PLATE,
  ...PAGE_OF_PLATE,
]
