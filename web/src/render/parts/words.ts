/** The words round a figure: title and subtitle above, caption below. */
import type { Answer, FigureDocument } from '@/api/types'
import { captionText } from '@/render/text/caption'
import { gaugeOf, penFor, type Pen } from '@/render/text/lettering'
import type { Item, Region } from '@/render/scene'
import { wrap, wrapBalanced, type Measure, type Run } from '@/render/text/text'

const PAD = 16
/** Title and subtitle together take no more than this share of the page, where they can be smaller. */
const MOST_ABOVE = 0.16
/** Sizes of long titles, beside their own. */
const SHARES = [1, 0.92, 0.85, 0.8]

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
  const lines = (part: Words, share = 1): Lines => {
    const pen = penFor(document, part)
    pen.size *= share
    const text = part === 'caption' ? below : document[part]
    const broken = part === 'caption' ? wrap : wrapBalanced
    return {
      part,
      runs: text ? broken(text, width - 2 * pad, pen, measure) : [],
      pen,
      line: pen.size * 1.3,
    }
  }
  // Most of the height belongs to the plot: long words above it are set smaller, down to the text's size.
  const isOwn = document.type.parts.title?.size || document.type.parts.subtitle?.size
  const above = SHARES.map((share) => [lines('title', share), lines('subtitle', share)]).find(
    (both, i) =>
      isOwn ||
      i === SHARES.length - 1 ||
      both.reduce((sum, { runs, line }) => sum + runs.length * line, 0) <= MOST_ABOVE * height,
  )!
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
  // The topmost label of the axis reaches above the plot by half its height.
  if (items.length) top += 5 * gauge + penFor(document, 'tick_labels').size / 2
  const foot = caption.runs.length ? caption.runs.length * caption.line + 10 * gauge : 0
  put(caption, height - pad - caption.runs.length * caption.line)
  return { top, below: foot, items, regions }
}
