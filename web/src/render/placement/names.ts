/** Names on points: placed so that they meet neither one another, nor marks, nor lines, nor the frame. */
import { MarkIndex, type Round } from '@/render/geometry/mark-index'
import { cross, type Segment } from '@/render/geometry/segments'
import type { Box } from '@/render/scene'
import type { Obstacles } from './obstacles'

export interface Wanted {
  row: number
  /** Place of the mark on the page, and its radius. */
  x: number
  y: number
  radius: number
  width: number
  height: number
  /** How far the name was dragged from its mark; null where it is placed by itself. */
  moved: readonly [number, number] | null
}

export interface PlacedName {
  row: number
  box: Box
  /** Where a line leads to the mark from, where the name stands off. */
  leader: Leader | null
}

type Leader = Segment

const GAP = 2
/** How far from its mark a name may stand, in heights of a name, when there is no room beside it. */
const RINGS = [1.1, 1.8, 2.7, 3.8, 5]
const ANGLES = Array.from({ length: 12 }, (_, i) => (i * Math.PI) / 6)
/** A name that stands so far off gets a line to its mark. */
const STANDS_OFF = 7

/**
 * Places names, those first in the list with the first choice. One that has no free place is left
 * out, unless it was dragged.
 *
 * @param round all marks
 * @param obstacles what else they may not meet; they are added to it
 */
export function placeNames(
  names: readonly Wanted[],
  round: Round,
  obstacles: Obstacles,
): PlacedName[] {
  const marks = new MarkIndex(
    round,
    names.flatMap((name) => (name.moved ? [] : [reachOf(name)])),
  )
  const placed: PlacedName[] = []
  const leaders: Leader[] = []
  const add = (name: Wanted, box: Box): void => {
    const leader = leaderOf(name, box)
    placed.push({ row: name.row, box, leader })
    obstacles.addBox(box)
    if (leader) leaders.push(leader)
  }
  const isFree = (name: Wanted, box: Box): boolean => {
    if (!obstacles.isFree(box) || marks.under(box) > 0) return false
    if (leaders.some((other) => runsThrough(other, box))) return false
    const leader = leaderOf(name, box)
    // Lines that cross one another, or run through a word or a mark, lead nowhere.
    return (
      leader === null ||
      !(
        leaders.some((other) => cross(leader, other)) ||
        obstacles.words.some((other) => runsThrough(leader, other)) ||
        touches(leader, marks)
      )
    )
  }
  for (const name of names)
    if (name.moved) add(name, boxAt(name, name.x + name.moved[0], name.y + name.moved[1]))
  for (const name of names) {
    if (name.moved) continue
    for (const box of candidates(name)) {
      if (!isFree(name, box)) continue
      add(name, box)
      break
    }
  }
  return placed
}

/** Whether a line meets a mark before it comes to its own. */
function touches([x0, y0, x1, y1]: Leader, marks: MarkIndex): boolean {
  const length = Math.hypot(x1 - x0, y1 - y0)
  for (let at = 0; at < length - 1; at += 2)
    if (marks.under(boxAt(POINT, x0 + ((x1 - x0) * at) / length, y0 + ((y1 - y0) * at) / length)))
      return true
  return false
}

const POINT = { width: 0, height: 0 }

/** Boxes round a mark, the best first: beside it, then further and further off. */
function* candidates(name: Wanted): Generator<Box> {
  const { x, y, radius: r, width: w, height: h } = name
  const d = r + GAP
  const o = r * Math.SQRT1_2 + GAP / 2
  const near: [number, number][] = [
    [x + d, y - h / 2],
    [x - d - w, y - h / 2],
    [x - w / 2, y - d - h],
    [x - w / 2, y + d],
    [x + o, y - o - h],
    [x + o, y + o],
    [x - o - w, y - o - h],
    [x - o - w, y + o],
  ]
  for (const [bx, by] of near) yield { x: bx, y: by, width: w, height: h }
  for (const ring of RINGS)
    for (const angle of ANGLES) {
      const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
      const off = r + ring * h
      const middle = [x + dx * (off + w / 2), y + dy * (off + h / 2)]
      yield boxAt(name, middle[0] - w / 2, middle[1] - h / 2)
    }
}

/** What a name that is placed by itself may lie in. */
function reachOf({ x, y, radius, width, height }: Wanted): Box {
  const off = radius + GAP + Math.max(...RINGS) * height
  return boxAt(
    { width: 2 * (off + width), height: 2 * (off + height) },
    x - off - width,
    y - off - height,
  )
}

const boxAt = ({ width, height }: Pick<Wanted, 'width' | 'height'>, x: number, y: number): Box => ({
  x,
  y,
  width,
  height,
})

function leaderOf(name: Wanted, box: Box): PlacedName['leader'] {
  const nearX = Math.max(box.x, Math.min(name.x, box.x + box.width))
  const nearY = Math.max(box.y, Math.min(name.y, box.y + box.height))
  const distance = Math.hypot(nearX - name.x, nearY - name.y)
  if (distance - name.radius < STANDS_OFF) return null
  const share = name.radius / distance
  return [nearX, nearY, name.x + (nearX - name.x) * share, name.y + (nearY - name.y) * share]
}

/** Whether a line runs through a box: across one of its diagonals, or into it. */
const runsThrough = (line: Leader, { x, y, width, height }: Box): boolean =>
  cross(line, [x, y, x + width, y + height]) || cross(line, [x + width, y, x, y + height])
