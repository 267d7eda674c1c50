/** The words round a figure: title and subtitle above, caption below. */
import type { Answer, FigureDocument } from '@/api/types'
import { captionText } from '@/render/text/caption'
import { gaugeOf, penFor, type Pen } from '@/render/text/lettering'
import type { Item, Region } from '@/render/scene'
import { wrap, type Measure, type Run } from '@/render/text/text'

const PAD = 16

/** The margin of a page. */
export const padOf = (document: FigureDocument): number => PAD * gaugeOf(document)

type Words = 'title' | 'subtitle' | 'caption'

interface Lines {
  part: Words
  runs: Run[][]
  pen: Pen
  line: number
}

export interface FigureWords {
  /** Where the plot may begin. */
  top: number
  /** Room kept free at the foot of the page. */
  below: number
  items: Item[]
  regions: Region[]
}

/** The caption that stands below a figure, if one does. */
export const captionOn = ({ document, answer, number }: Captioned): string | null =>
  document.caption_below ? captionText(document.caption, document, answer, number ?? null) : null

interface Captioned {
  document: FigureDocument
  answer: Answer
  number?: number
}

/** @param below the caption as it reads */
export function figureWords(
  document: FigureDocument,
  measure: Measure,
  below: string | null = document.caption,
): FigureWords {
  const { width, height } = document.page
  const gauge = gaugeOf(document)
  const pad = padOf(document)
  const lines = (part: Words): Lines => {
    const pen = penFor(document, part)
    const text = part === 'caption' ? below : document[part]
    return {
      part,
      runs: text ? wrap(text, width - 2 * pad, pen, measure) : [],
      pen,
      line: pen.size * 1.3,
    }
  }
  const above = [lines('title'), lines('subtitle')]
  const caption = lines('caption')
  const items: Item[] = []
  const regions: Region[] = []
  const put = ({ part, runs, pen, line }: Lines, top: number): number => {
    runs.forEach((run, i) =>
      items.push({
        kind: 'text',
        part,
        x: pad,
        y: top + pen.size * 0.9 + i * line,
        runs: run,
        ...pen,
        anchor: 'start',
        turn: 0,
      }),
    )
    if (runs.length)
      regions.push({ part, box: { x: 0, y: top - 4, width, height: runs.length * line + 6 } })
    return top + runs.length * line
  }
  let top = pad
  for (const one of above) top = put(one, top)
  if (items.length) top += 4 * gauge
  const foot = caption.runs.length ? caption.runs.length * caption.line + 6 * gauge : 0
  put(caption, height - pad - caption.runs.length * caption.line)
  return { top, below: foot, items, regions }
}
