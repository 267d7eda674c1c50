/** Parts of a scene somewhere else on a page. */
import { laidBars, marksFrom } from '@/render/marks/places'
import type { Box, Item, MarksItem } from '@/render/scene'

const away = (box: Box, dx: number, dy: number): Box => ({ ...box, x: box.x + dx, y: box.y + dy })

const shifted = (points: Float64Array, dx: number, dy: number): Float64Array =>
  points.map((value, i) => value + (i % 2 ? dy : dx))

/** Items somewhere else on the page. */
export function moved(items: readonly Item[], dx: number, dy: number): Item[] {
  const clipped = <T extends { clip?: Box }>(item: T): T =>
    item.clip ? { ...item, clip: away(item.clip, dx, dy) } : item
  return items.map((item): Item => {
    if (item.kind === 'text') return { ...item, x: item.x + dx, y: item.y + dy }
    if (item.kind === 'marks') return movedMarks(item, dx, dy)
    return { ...clipped(item), points: shifted(item.points, dx, dy) }
  })
}

/** Places that are laid when they are asked for are laid elsewhere; others are moved. */
function movedMarks(item: MarksItem, dx: number, dy: number): MarksItem {
  const { columns, look, looks, paper, density, cells } = item
  const how = { look, looks, paper, density, cells, clip: away(item.clip, dx, dy) }
  if (!columns)
    return { ...item, ...how, x: item.x.map((x) => x + dx), y: item.y.map((y) => y + dy) }
  const across = { ...columns.across, start: columns.across.start + dx }
  const up = { ...columns.up, start: columns.up.start + dy }
  const bars = laidBars(item.bars ?? [], across, up)
  return marksFrom({ ...columns, across, up }, { ...how, bars })
}
