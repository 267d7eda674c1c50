/** What is under the pointer, and where one gets to by the arrow keys. */
import type { TrendAnswer } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { Layout } from '@/render/layout/figure'
import { distanceToLine, type MarkIndex } from '@/render/geometry/pick'
import { contains } from '@/render/scene'

/** How near the pointer must come, in points. */
const NEAR_MARK = 5
const NEAR_LINE = 5

export type Hovered =
  | {
      kind: 'mark'
      /** Its place among the marks as they are drawn: by which it is reached and ringed. */
      drawn: number
      /** Its place among the answer's marks: by which its values are read. */
      source: number
      row: number
      x: number
      y: number
      radius: number
    }
  | { kind: 'trend'; trend: TrendAnswer; x: number; y: number }

/** A mark by its place among those that are drawn. */
export function markAt(layout: Layout, marks: RenderedFigure['marks'], drawn: number): Hovered {
  const source = layout.source[drawn]
  return {
    kind: 'mark',
    drawn,
    source,
    row: marks.row[source],
    x: layout.marks.x[drawn],
    y: layout.marks.y[drawn],
    radius: layout.radius(drawn),
  }
}

export function hoverAt(
  layout: Layout,
  index: MarkIndex,
  { marks }: RenderedFigure,
  x: number,
  y: number,
  known = -1,
): Hovered | null {
  if (!contains(layout.marks.clip, x, y)) return null
  const drawn = known >= 0 ? known : index.nearest(x, y, NEAR_MARK)
  if (drawn >= 0) return markAt(layout, marks, drawn)
  let nearest: TrendAnswer | null = null
  let least = NEAR_LINE
  for (const { trend, points } of layout.trends) {
    const distance = distanceToLine(points, x, y)
    if (distance <= least) {
      least = distance
      nearest = trend
    }
  }
  return nearest && { kind: 'trend', trend: nearest, x, y }
}

/** The next mark in view along an axis; the first where there is none yet. */
export function nextMark(
  { marks }: Layout,
  from: number,
  direction: number,
  along: 'x' | 'y',
): number {
  const places = marks[along]
  const { clip } = marks
  // Places on the page grow downwards, values upwards.
  const way = along === 'x' ? direction : -direction
  const start = from < 0 ? -Infinity : places[from] * way
  let best = -1
  let least = Infinity
  for (let i = 0; i < places.length; i++) {
    if (i === from || !contains(clip, marks.x[i], marks.y[i])) continue
    const ahead = places[i] * way
    // Of marks at the same place the next in order follows, so that each can be reached.
    const follows = ahead > start || (ahead === start && i > from)
    if (follows && ahead < least) {
      least = ahead
      best = i
    }
  }
  return best
}
