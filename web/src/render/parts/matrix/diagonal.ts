/** The diagonal of a matrix. */
import type { MatrixVariable } from '@/api/types'
import { fromHex } from '@/render/colours'
import { shelfOf } from '@/render/parts/ridgelines'
import type { Scale } from '@/render/geometry/scale'
import type { RenderedFigure } from '@/render/figure'
import type { Box, Item } from '@/render/scene'
import { bold, penFor } from '@/render/text/lettering'
import { titled } from '@/render/text/titled'
import { widthOf, wrap, type Measure } from '@/render/text/text'
import { codeColour, framed, matrixOf } from './style'

/** A variable on the diagonal: its name, over its distribution. */
export function diagonalItems(
  figure: RenderedFigure,
  variable: MatrixVariable,
  box: Box,
  x: Scale,
  measure: Measure,
): Item[] {
  const { document } = figure
  const { names, diagonal } = matrixOf(document)
  const items: Item[] = [framed(box)]
  const paper = fromHex(document.page.background)
  const pen = bold(penFor(document, 'axis_titles'))
  const named = titled(variable)
  let size = Math.min(pen.size, box.height * 0.17)
  let lines = wrap(named, box.width - 8, { ...pen, size }, measure)
  const widest = Math.max(...lines.map((runs) => widthOf(runs, { ...pen, size }, measure)))
  if (widest > box.width - 6) {
    size *= (box.width - 6) / widest
    lines = wrap(named, box.width - 6, { ...pen, size }, measure)
  }
  const room = names ? lines.length * size * 1.2 + 3 : 0
  const floor = box.y + box.height - 1
  const tall = diagonal === 'nothing' ? 0 : box.height - room - 6
  for (const kind of ['histogram', 'density'] as const) {
    const parts = variable[kind]
    if (!parts.length || tall < 8) continue
    const most = Math.max(...parts.flatMap(({ height }) => height))
    const both = kind === 'density' && variable.histogram.length > 0
    for (const [place, { code, at, height }] of parts.entries()) {
      const colour = codeColour(figure, code)
      const shelf = shelfOf(place, parts.length, tall)
      const ground = floor - shelf.ground
      const top = (v: number): number => ground - (v / most) * shelf.tall
      const outline =
        kind === 'histogram'
          ? height.flatMap((v, i) => [x.toPage(at[i]), top(v), x.toPage(at[i + 1]), top(v)])
          : height.flatMap((v, i) => [x.toPage(at[i]), top(v)])
      const last = kind === 'histogram' ? at[at.length - 1] : at[height.length - 1]
      const common = {
        kind: 'path' as const,
        part: 'ground' as const,
        points: Float64Array.from([x.toPage(at[0]), ground, ...outline, x.toPage(last), ground]),
        closed: true,
        clip: box,
      }
      if (shelf.covers && !both) items.push({ ...common, fill: paper, fillOpacity: 1 })
      items.push({
        ...common,
        ...(both || !shelf.tint ? {} : { fill: colour, fillOpacity: shelf.tint }),
        stroke: colour,
        width: kind === 'density' ? 1.3 : 0.8,
      })
    }
  }
  if (!names) return items
  const top = tall >= 8 ? box.y + 3 : box.y + (box.height - lines.length * size * 1.2) / 2
  lines.forEach((runs, k) =>
    items.push({
      kind: 'text',
      part: 'x-axis',
      x: box.x + box.width / 2,
      y: top + size * (0.95 + k * 1.2),
      runs,
      ...pen,
      size,
      anchor: 'middle',
      turn: 0,
    }),
  )
  return items
}
