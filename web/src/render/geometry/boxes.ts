/** Boxes on a page. */
import type { Box } from '@/render/scene'

export const corners = ({ x, y, width, height }: Box): Float64Array =>
  Float64Array.of(x, y, x + width, y, x + width, y + height, x, y + height)

export const grown = ({ x, y, width, height }: Box, by: number): Box => ({
  x: x - by,
  y: y - by,
  width: width + 2 * by,
  height: height + 2 * by,
})

export const meets = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** A box where it was put, as far as the page reaches. */
export const boxWithin = (
  { width, height }: { width: number; height: number },
  x: number,
  y: number,
  page: { width: number; height: number },
): Box => ({
  x: Math.max(0, Math.min(x, page.width - width)),
  y: Math.max(0, Math.min(y, page.height - height)),
  width,
  height,
})
