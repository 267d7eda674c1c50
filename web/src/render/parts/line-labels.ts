/** Names of groups at the ends of their lines, where colour does not tell the lines apart. */
import type { FigureDocument } from '@/api/types'
import { CATEGORIES } from '@/render/colours'
import type { MarkIndex } from '@/render/geometry/labels'
import type { Obstacles } from '@/render/placement/obstacles'
import type { Box, Item } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { literal, parseRuns, widthOf, type Measure } from '@/render/text/text'
import { partOf } from './trend-style'
import type { DrawnTrend } from './trends'

/** Shares of the way along a line where its name is tried, its end first. */
const ALONG = [1, 0.97, 0.93, 0.88, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1, 0]
const GAP = 3

/**
 * @param obstacles what names may not meet, but for marks; they are added to it
 * @returns the names, and how many found no free place
 */
export function lineLabels(
  document: FigureDocument,
  trends: readonly DrawnTrend[],
  obstacles: Obstacles,
  marksOf: () => MarkIndex,
  measure: Measure,
): { items: Item[]; left: number } {
  const named = trends.filter(({ trend }) => {
    const lines = trends.filter((one) => one.trend.trend === trend.trend).length
    return trend.report.group !== null && (trend.group_code === null || lines > CATEGORIES.length)
  })
  if (!named.length) return { items: [], left: 0 }
  const marks = marksOf()
  const pen = penFor(document, 'legend')
  const items = named.flatMap(({ trend, points, colour }): Item[] => {
    const runs = parseRuns(literal(trend.report.group!))
    const size = { width: widthOf(runs, pen, measure), height: pen.size * 1.15 }
    const box = places(points, size).find((one) => obstacles.isFree(one) && !marks.under(one))
    if (!box) return []
    obstacles.addBox(box)
    return [
      {
        kind: 'text',
        part: partOf(trend),
        x: box.x,
        y: box.y + pen.size * 0.9,
        runs,
        ...pen,
        colour,
        anchor: 'start',
        turn: 0,
      },
    ]
  })
  return { items, left: named.length - items.length }
}

/** Boxes beside a line: past its end, then over and under it, further and further back. */
function places(points: Float64Array, { width, height }: Pick<Box, 'width' | 'height'>): Box[] {
  const count = points.length / 2
  return ALONG.flatMap((share): Box[] => {
    const at = 2 * Math.round(share * (count - 1))
    const [x, y] = [points[at], points[at + 1]]
    if (!Number.isFinite(x) || !Number.isFinite(y)) return []
    const lefts = share === 1 ? [x + GAP, x - width] : [x - width / 2, x - width, x]
    const tops = share === 1 ? [y - height / 2] : []
    return [...tops, y - height - GAP, y + GAP].flatMap((top) =>
      lefts.map((left) => ({ x: left, y: top, width, height })),
    )
  })
}
