/** What the parts of a matrix have in common. */
import type { FigureDocument, MatrixCell } from '@/api/types'
import { CATEGORIES, fromHex } from '@/render/colours'
import { corners } from '@/render/geometry/boxes'
import type { RenderedFigure } from '@/render/figure'
import { colourOn } from '@/render/marks/looks'
import type { Box, Colour, Item } from '@/render/scene'

type Matrix = NonNullable<FigureDocument['matrix']>

const FRAME = fromHex('#cfd8d3')
/** How long a tick is. */
export const TICK = 3

export const matrixOf = (document: FigureDocument): Matrix => document.matrix!

/** What a cell shows: its region's content. */
export function contentOf(document: FigureDocument, { x, y, strip }: MatrixCell) {
  const content = y > x ? matrixOf(document).below : matrixOf(document).above
  // Where one of the two holds categories there is nothing but its marks.
  return strip && content !== 'nothing' ? 'points' : content
}

export const framed = (box: Box): Item => ({
  kind: 'path',
  part: 'ground',
  points: corners(box),
  closed: true,
  stroke: FRAME,
  width: 0.8,
})

/** The colour of a group of rows; that of the marks where there are no groups. */
export const codeColour = ({ document, answer }: RenderedFigure, code: number | null): Colour =>
  code === null || answer.colour?.scale !== 'category'
    ? document.marks.colour
      ? fromHex(document.marks.colour)
      : CATEGORIES[0]
    : colourOn(document, answer.colour, code)
