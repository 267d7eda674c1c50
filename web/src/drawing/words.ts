/** The words round a figure: title and subtitle above, caption below. */
import type { FigureDocument } from '@/api/types'
import { INK, SOFT_INK } from './colours'
import type { Item, Part, Region } from './scene'
import { wrap, type Measure, type Run } from './text'

export const PAD = 16

interface Lines {
  part: Part
  runs: Run[][]
  size: number
  line: number
  weight: 400 | 600
  colour: typeof INK
}

export interface FigureWords {
  /** Where the plot may begin. */
  top: number
  /** Room kept free at the foot of the page. */
  below: number
  items: Item[]
  regions: Region[]
}

export function figureWords(document: FigureDocument, measure: Measure): FigureWords {
  const { width, height } = document.page
  const scale = document.type.scale
  const lines = (
    part: Part,
    text: string | null,
    size: number,
    weight: 400 | 600,
    colour: typeof INK,
  ): Lines => ({
    part,
    runs: text ? wrap(text, width - 2 * PAD, size * scale, weight, measure) : [],
    size: size * scale,
    line: size * scale * 1.3,
    weight,
    colour,
  })
  const above = [
    lines('title', document.title, 17, 600, INK),
    lines('subtitle', document.subtitle, 13.5, 400, SOFT_INK),
  ]
  const caption = lines('caption', document.caption, 12, 400, SOFT_INK)
  const items: Item[] = []
  const regions: Region[] = []
  const put = ({ part, runs, size, line, weight, colour }: Lines, top: number): number => {
    runs.forEach((run, i) =>
      items.push({
        kind: 'text',
        part,
        x: PAD,
        y: top + size * 0.9 + i * line,
        runs: run,
        size,
        weight,
        colour,
        anchor: 'start',
        turn: 0,
      }),
    )
    if (runs.length)
      regions.push({ part, box: { x: 0, y: top - 4, width, height: runs.length * line + 6 } })
    return top + runs.length * line
  }
  let top = PAD
  for (const one of above) top = put(one, top)
  if (items.length) top += 4
  const below = caption.runs.length ? caption.runs.length * caption.line + 6 : 0
  put(caption, height - PAD - caption.runs.length * caption.line)
  return { top, below, items, regions }
}
