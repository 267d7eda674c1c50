/** Short texts in the place of markers. */
import { mixed } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import type { PlacedMarks } from '@/render/marks/places'
import { contains, type Colour, type Item } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { literal, parseRuns, widthOf, type Measure } from '@/render/text/text'

/** Above so many marks, letters in their place could not be read. */
const MOST_LETTERS = 5000
/** Letters are as tall as a disc of the same size is wide to the eye. */
const LETTER_SIZE = 1.75
const LEAST_LETTER = 6
const NO_TEXT = 65_535

/** Short texts in the place of markers; null where markers are drawn. */
export function markerItems(
  { document, answer, marks }: RenderedFigure,
  { item, source }: PlacedMarks,
  paper: Colour,
  measure: Measure,
): Item[] | null {
  const texts = answer.markers
  if (!texts || !marks.text || item.density || item.x.length > MOST_LETTERS) return null
  const pen = penFor(document, 'names')
  const items: Item[] = []
  for (let drawn = 0; drawn < item.x.length; drawn++) {
    const code = marks.text[source[drawn]]
    if (code === NO_TEXT || !contains(item.clip, item.x[drawn], item.y[drawn])) continue
    const look = item.looks[item.look[drawn]]
    const runs = parseRuns(literal(texts[code]))
    const bold = { ...pen, weight: 600 as const }
    const tall = look.size * LETTER_SIZE
    // A bubble's words are as wide as it is, so that those of large ones leave room for others.
    const wide = widthOf(runs, { ...bold, size: 1 }, measure)
    const size = document.size ? Math.max(LEAST_LETTER, Math.min(tall, look.size / wide)) : tall
    const opacity = look.hollow ? look.opacity : Math.max(look.opacity, 0.85)
    items.push({
      kind: 'text',
      part: 'marks',
      x: item.x[drawn],
      y: item.y[drawn] + size * 0.34,
      runs,
      ...bold,
      size,
      colour: mixed(look.colour, paper, opacity),
      anchor: 'middle',
      turn: 0,
    })
  }
  return items
}
