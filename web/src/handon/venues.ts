/** Venues: where a figure will be seen sets its page, its text, its marks and its lines together. */
import type { FigureDocument } from '@/api/types'

type Page = FigureDocument['page']

export interface Venue {
  venue: Exclude<Page['venue'], 'own'>
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

const SCREEN = { mark: 6, axis: 1, trend: 2 }

/** Sets everything that a venue sets. */
export function showAt(draft: FigureDocument, venue: Venue): void {
  draft.page.venue = venue.venue
  draft.page.width = venue.width
  draft.page.height = venue.height
  draft.type.scale = venue.text
  draft.marks.size = SCREEN.mark * venue.ink
  for (const axis of [draft.axes.x, draft.axes.y]) axis.width = SCREEN.axis * venue.ink
  for (const trend of draft.trends) trend.width = SCREEN.trend * venue.ink
}
