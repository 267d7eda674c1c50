/** Venues: where a figure will be seen sets its page, its text, its marks and its lines together. */
import type { FigureDocument } from '@/api/types'

type Page = FigureDocument['page']

export interface Venue {
  venue: Exclude<Page['venue'], 'custom'>
  label: string
  /** In points. */
  width: number
  height: number
  /** Text sizes against those of the screen. */
  text: number
  /** Marks and lines against those of the screen. */
  ink: number
}

const MM = 72 / 25.4

export const VENUES: readonly Venue[] = [
  { venue: 'screen', label: 'screen', width: 720, height: 610, text: 1, ink: 1 },
  { venue: 'slide', label: 'slide', width: 960, height: 540, text: 1.5, ink: 1.35 },
  {
    venue: 'report column',
    label: 'report column',
    width: Math.round(85 * MM),
    height: Math.round(72 * MM),
    text: 0.64,
    ink: 0.6,
  },
  {
    venue: 'full page',
    label: 'full page',
    width: Math.round(170 * MM),
    height: Math.round(120 * MM),
    text: 0.8,
    ink: 0.8,
  },
  {
    venue: 'poster',
    label: 'poster',
    width: Math.round(420 * MM),
    height: Math.round(320 * MM),
    text: 2.2,
    ink: 1.9,
  },
]

export const UNITS = { mm: MM, inches: 72, pixels: 0.75 } as const

/** The venue for which a figure was set; that of the same text where its page is one of its own. */
const venueOf = ({ page, type }: FigureDocument): Venue =>
  VENUES.find(({ venue }) => venue === page.venue) ??
  VENUES.find(({ text }) => text === type.scale) ??
  VENUES[0]

/** How long a side of a square would be that is as large as the page. */
const sideOf = ({ width, height }: Venue): number => Math.sqrt(width * height)

const DIGITS = 1000

/**
 * Sets everything that a venue sets. What was made larger or thinner stays so, beside the others:
 * marks and lines go with the ink, and bubbles, whose areas are compared, with the page.
 */
export function showAt(draft: FigureDocument, venue: Venue): void {
  const before = venueOf(draft)
  const scaled =
    (by: number) =>
    (value: number, [least, most]: readonly [number, number]): number =>
      Math.min(most, Math.max(least, Math.round(value * by * DIGITS) / DIGITS))
  const inked = scaled(venue.ink / before.ink)
  const spread = scaled(sideOf(venue) / sideOf(before))
  draft.page.venue = venue.venue
  draft.page.width = venue.width
  draft.page.height = venue.height
  draft.type.scale = venue.text
  draft.marks.size = inked(draft.marks.size, [1, 60])
  if (draft.marks.outline) draft.marks.outline.width = inked(draft.marks.outline.width, [0.25, 8])
  if (draft.size) draft.size.largest = spread(draft.size.largest, [4, 200])
  for (const axis of Object.values(draft.axes))
    if (axis && typeof axis === 'object' && 'ticks' in axis) axis.width = inked(axis.width, [0, 8])
  for (const trend of draft.trends) trend.width = inked(trend.width, [0.25, 12])
  if (draft.matrix) draft.matrix.trend.width = inked(draft.matrix.trend.width, [0.25, 12])
  if (draft.connect) draft.connect.width = inked(draft.connect.width, [0.25, 12])
  for (const bar of [draft.error_bars.x, draft.error_bars.y])
    if (bar) {
      bar.cap = inked(bar.cap, [0, 40])
      bar.width = inked(bar.width, [0.25, 8])
    }
  if (draft.names) {
    const by = venue.text / before.text
    for (const to of Object.values(draft.names.moved)) for (const i of [0, 1]) to[i] *= by
  }
}
