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

/**
 * A block in its place.
 *
 * @param paper the ground that keeps what the block may cover from running through its words; none
 *   where it covers nothing
 */
export function blockItems(block: Block | null, box: Box | null, paper: Colour | null): Item[] {
  if (!block || !box) return []
  const ground: Item[] = paper
    ? [
        {
          kind: 'path',
          part: 'ground',
          points: corners(box),
          closed: true,
          fill: paper,
          fillOpacity: 0.82,
        },
      ]
    : []
  return [...ground, ...block.place(box.x, box.y)]
}
