/** Frames: round a plot, and round a page. */
import { fromHex } from '@/render/colours'
import { corners, grown } from '@/render/geometry/boxes'
import type { Box, Item } from '@/render/scene'

export const outlined = (box: Box, colour: string, width: number): Item => ({
  kind: 'path',
  part: 'ground',
  points: corners(box),
  closed: true,
  stroke: fromHex(colour),
  width,
})

/** The frame round a page, where it has one. */
export const pageFrame = (page: { width: number; height: number; frame: string | null }): Item[] =>
  page.frame
    ? [outlined(grown({ x: 0, y: 0, width: page.width, height: page.height }, -0.5), page.frame, 1)]
    : []
