/** What the sign of a mean or median says, on the figure itself. */
import { INK } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { meets } from '@/render/geometry/boxes'
import { textBox } from '@/render/placement/obstacles'
import type { Box, Item, TextItem } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { levelText } from '@/render/text/numbers'
import { parseRuns, type Measure } from '@/render/text/text'
import { padOf } from './words'

/** What the sign of a middle stands for, at the foot of the page where there is room. */
export function middleKey(
  { document, answer }: RenderedFigure,
  plot: Box,
  below: number,
  standing: readonly Item[],
  measure: Measure,
): Item[] {
  const { middle, level } = document.distribution!
  const hasOne = answer.distribution!.groups.some((one) =>
    middle === 'none' ? false : one[middle].value !== null,
  )
  if (middle === 'none' || !hasOne) return []
  const pen = { ...penFor(document, 'caption') }
  pen.size *= 0.9
  const runs = parseRuns(`${middle}, ${levelText(level)} interval`)
  const y = document.page.height - padOf(document) - below - pen.size * 0.3
  const words: TextItem = {
    kind: 'text',
    part: 'distribution',
    x: plot.x + plot.width,
    y,
    runs,
    ...pen,
    anchor: 'end',
    turn: 0,
  }
  const box = textBox(words, measure)
  const r = pen.size * 0.3
  const [x, centre] = [box.x - 3 * r, y - pen.size * 0.32]
  const whole = { ...box, x: x - 2 * r, width: box.width + 5 * r }
  const isFree = !standing.some(
    (item) => item.kind === 'text' && meets(textBox(item, measure), whole),
  )
  if (!isFree) return []
  return [
    {
      kind: 'path',
      part: 'distribution',
      points: Float64Array.of(x - r, centre, x, centre - r, x + r, centre, x, centre + r),
      closed: true,
      fill: INK,
    },
    words,
  ]
}
