/** Where a block of words finds room that nothing else has. */
import { grown, meets } from '@/render/geometry/boxes'
import type { Box } from '@/render/scene'
import type { Obstacles } from './obstacles'

/** Places are tried so far apart. */
const STEP = 5
/** A block in a corner stands so far inside. */
const INSET = 2
/** How much further off a place may be for it to be in the first corner rather than in the last. */
const PREFERENCE = 30

/**
 * The free place of a block that is nearest to a corner, the upper left one first; null where there
 * is none.
 *
 * @param size of the block, with its own margin
 * @param margin how much of it may be shared with what stands round it; below 0 where more round it
 *   is to be free
 */
export function freePlace(
  { width, height }: { width: number; height: number },
  plot: Box,
  obstacles: Obstacles,
  margin = 0,
): Box | null {
  const left = plot.x + INSET
  const top = plot.y + INSET
  const right = plot.x + plot.width - width - INSET
  const bottom = plot.y + plot.height - height - INSET
  if (right < left || bottom < top) return null
  // Beside other words a block would be read as one with them: corners of their own come first.
  const all = cornersOf({ width, height }, plot)
  const own = all.filter(
    ([x, y]) => !obstacles.words.some((one) => meets(one, { x, y, width, height })),
  )
  const corners = own.length ? own : all
  const costOf = (x: number, y: number): number =>
    corners.reduce(
      (least, [cx, cy], i) =>
        Math.min(least, Math.hypot(x - cx, y - cy) + (PREFERENCE * i) / corners.length),
      Infinity,
    )
  let best: Box | null = null
  let least = Infinity
  for (const x of stepped(left, right))
    for (const y of stepped(top, bottom)) {
      const cost = costOf(x, y)
      if (cost >= least) continue
      if (!obstacles.isFree(within(grown({ x, y, width, height }, -margin), plot))) continue
      best = { x, y, width, height }
      least = cost
    }
  return best
}

/** The corner of the plot in which a block covers least: for one that is to stand inside all the same. */
export function clearestCorner(
  size: { width: number; height: number },
  plot: Box,
  obstacles: Obstacles,
): Box {
  const boxes = cornersOf(size, plot).map(([x, y]) => ({ x, y, ...size }))
  const covered = boxes.map((box) => obstacles.covered(box))
  return boxes[covered.indexOf(Math.min(...covered))]
}

/** Where a box begins in each corner, the first choice first. */
const cornersOf = (
  { width, height }: { width: number; height: number },
  plot: Box,
): [number, number][] => {
  const [left, top] = [plot.x + INSET, plot.y + INSET]
  const right = plot.x + plot.width - width - INSET
  const bottom = plot.y + plot.height - height - INSET
  return [
    [left, top],
    [right, bottom],
    [right, top],
    [left, bottom],
  ]
}

/** What of a box lies within another. */
function within(box: Box, area: Box): Box {
  const [x, y] = [Math.max(box.x, area.x), Math.max(box.y, area.y)]
  return {
    x,
    y,
    width: Math.min(box.x + box.width, area.x + area.width) - x,
    height: Math.min(box.y + box.height, area.y + area.height) - y,
  }
}

/** Numbers from one end to the other, both among them. */
function stepped(from: number, to: number): number[] {
  const steps = Math.max(1, Math.ceil((to - from) / STEP))
  return Array.from({ length: steps + 1 }, (_, i) => from + ((to - from) * i) / steps)
}
