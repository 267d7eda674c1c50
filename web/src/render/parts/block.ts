/** A block: words and signs that stand together and can be put anywhere on a page. */
import { corners } from '@/render/geometry/boxes'
import type { Box, Colour, Item } from '@/render/scene'

export interface Block {
  width: number
  height: number
  place: (x: number, y: number) => Item[]
  /** Where the entries of categories stand, for the pointer. */
  entries?: (x: number, y: number) => EntryBox[]
}

/** An entry of the legend: the code of its category, and where it stands. */
export interface EntryBox {
  code: number
  box: Box
}

/** A block on a ground of paper, so that what it may cover does not run through its words. */
export function blockItems(block: Block | null, box: Box | null, paper: Colour): Item[] {
  if (!block || !box) return []
  return [
    {
      kind: 'path',
      part: 'ground',
      points: corners(box),
      closed: true,
      fill: paper,
      fillOpacity: 0.82,
    },
    ...block.place(box.x, box.y),
  ]
}
