/** What stands beside the lanes of a distribution: names of categories, or an axis of counts. */
import type { Answer, FigureDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { Lane, Zones } from '@/render/geometry/category-bands'
import { makeScale, transformOf } from '@/render/geometry/scale'
import { drawAxis, pensOf, type Fitted, type Side } from '@/render/parts/axes'
import { figureWords, padOf } from '@/render/parts/words'
import type { Box, Item } from '@/render/scene'
import { titled } from '@/render/text/titled'
import { parseRuns, widthOf, type Measure } from '@/render/text/text'

/** What stands beside the lanes: names of categories, or an axis of counts. */
export function besideItems(
  { document, answer }: RenderedFigure,
  { plot, heights }: { plot: Box; heights: Fitted | null },
  lanes: readonly Lane[],
  named: readonly string[],
  most: number,
  zones: Zones,
  measure: Measure,
): { items: Item[]; box: Box } {
  const held = document.distribution!
  const pens = pensOf(document)
  const { tick, title: pen, gauge } = pens
  const foot = plot.y + plot.height
  const items: Item[] = []
  if (!named.length) {
    if (heights && zones.shape && lanes.length) {
      const [lane] = lanes
      const scale = makeScale(
        transformOf('linear'),
        [0, most],
        [lane.at(zones.shape[0]), lane.at(zones.shape[1])],
      )
      const side: Side = held.lying ? 'y' : 'x'
      const drawn = drawAxis(side, heights, scale, [0, most], plot, {
        frame: 'full',
        crossing: null,
      })
      return {
        items: drawn.items.map((item) => ({ ...item, part: 'distribution' as const })),
        box: drawn.box,
      }
    }
    return { items, box: { x: plot.x, y: foot, width: plot.width, height: 8 } }
  }
  const text = (x: number, y: number, words: string, anchor: 'start' | 'middle' | 'end'): Item => ({
    kind: 'text',
    part: 'distribution',
    x,
    y,
    runs: parseRuns(words),
    ...tick,
    anchor,
    turn: 0,
  })
  named.forEach((name, i) => {
    const lane = lanes[i]
    const middle = lane.at(0.5)
    if (held.lying) items.push(text(plot.x - 12 * gauge, middle + tick.size * 0.34, name, 'end'))
    else {
      // A name that is wider than its lane goes down in steps, each second one lower.
      const isWide = named.some(
        (one) => widthOf(parseRuns(one), tick, measure) + 6 > Math.abs(lane.to - lane.from),
      )
      const lower = isWide && i % 2 ? tick.size * 1.3 : 0
      items.push(text(middle, foot + 8 * gauge + tick.size + lower, name, 'middle'))
    }
  })
  const label = answer.distribution!.groups.length && held.by ? groupTitle(document, answer) : ''
  if (label)
    items.push({
      kind: 'text',
      part: 'distribution',
      x: held.lying ? padOf(document) + pen.size * 0.8 : plot.x + plot.width / 2,
      y: held.lying
        ? plot.y + plot.height / 2
        : document.page.height - padOf(document) - footBelow(document, measure) - pen.size * 0.3,
      runs: parseRuns(label),
      ...pen,
      anchor: 'middle',
      turn: held.lying ? -90 : 0,
    })
  const box = held.lying
    ? { x: 0, y: plot.y, width: plot.x, height: plot.height }
    : { x: plot.x, y: foot, width: plot.width, height: document.page.height - foot }
  return { items, box }
}

const footBelow = (document: FigureDocument, measure: Measure): number =>
  figureWords(document, measure).below

const groupTitle = (_: FigureDocument, answer: Answer): string => {
  const { by } = answer.distribution!
  return by ? titled(by) : ''
}
