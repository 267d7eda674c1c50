/**
 * Distributions of several groups in one strip: laid over one another where two or three can be told
 * apart by their outlines, else each on a shelf of its own, so that fills never mix.
 */

/** More groups than these are told apart by place, not by outlines alone. */
const MOST_OVER_ANOTHER = 3
/** A shelf's highest value reaches over the shelf above by this share. */
const REACH = 1.5

export interface Shelf {
  /** How far its ground lies from that of the strip. */
  ground: number
  /** How far its highest value reaches from its ground. */
  tall: number
  /** Of its own colour; none where tints would mix to a colour that no group has. */
  tint: number
  /** Whether what lies behind it is covered by paper. */
  covers: boolean
}

/** @param depth of the strip */
export function shelfOf(place: number, groups: number, depth: number): Shelf {
  if (groups < 2) return { ground: 0, tall: depth, tint: 0.32, covers: false }
  if (groups <= MOST_OVER_ANOTHER) return { ground: 0, tall: depth, tint: 0, covers: false }
  const step = depth / (groups - 1 + REACH)
  // The first stands furthest back, and the others before it.
  return { ground: (groups - 1 - place) * step, tall: step * REACH, tint: 0.32, covers: true }
}
