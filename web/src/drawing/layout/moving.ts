/** Parts of a scene somewhere else on a page. */
import type { Box, Item } from '@/drawing/scene'

const shifted = (points: Float64Array, dx: number, dy: number): Float64Array =>
  points.map((value, i) => value + (i % 2 ? dy : dx))

/** Items somewhere else on the page. */
export function moved(items: readonly Item[], dx: number, dy: number): Item[] {
  const clipped = <T extends { clip?: Box }>(item: T): T =>
    item.clip ? { ...item, clip: { ...item.clip, x: item.clip.x + dx, y: item.clip.y + dy } } : item
  return items.map((item): Item => {
    if (item.kind === 'text') return { ...item, x: item.x + dx, y: item.y + dy }
    if (item.kind === 'marks')
      return {
        ...clipped(item),
        x: item.x.map((x) => x + dx),
        y: item.y.map((y) => y + dy),
      }
    return { ...clipped(item), points: shifted(item.points, dx, dy) }
  })
}
