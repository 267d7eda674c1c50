/** What stands in a cell of a matrix: a line, counts, contours, or r. */
import type { MatrixCell } from '@/api/types'
import { dew, fromHex, INK, mixed, SOFT_INK } from '@/render/colours'
import type { Scale } from '@/render/geometry/scale'
import type { RenderedFigure } from '@/render/figure'
import type { Box, Colour, Item } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { shareText } from '@/render/text/numbers'
import { parseRuns, widthOf, type Measure } from '@/render/text/text'
import { codeColour, contentOf, matrixOf } from './style'

const CONTOUR_OPACITY = 0.16

/** What stands in a cell beside or over its marks. */
export function cellItems(
  figure: RenderedFigure,
  cell: MatrixCell,
  box: Box,
  x: Scale,
  y: Scale,
  measure: Measure,
): Item[] {
  const content = contentOf(figure.document, cell)
  if (content === 'r') return rItems(figure, cell, box, measure)
  if (content === 'counts') return countItems(cell, x, y, box)
  if (content === 'contours') return contourItems(figure, cell, x, y, box)
  return content === 'trend' ? curveItems(figure, cell, x, y, box) : []
}

function curveItems(
  figure: RenderedFigure,
  cell: MatrixCell,
  x: Scale,
  y: Scale,
  clip: Box,
): Item[] {
  const { width } = matrixOf(figure.document).trend
  return cell.curves.flatMap(({ code, curve }): Item[] => {
    const stroke = code === null ? INK : codeColour(figure, code)
    const at = (ys: (number | null)[]) =>
      curve.x.flatMap((v, i) => (ys[i] === null ? [] : [x.toPage(v), y.toPage(ys[i])]))
    const bands = curve.bands.map(({ low, high }): Item => {
      const back = at(low)
      const turned: number[] = []
      for (let i = back.length - 2; i >= 0; i -= 2) turned.push(back[i], back[i + 1])
      return {
        kind: 'path',
        part: 'marks',
        points: Float64Array.from([...at(high), ...turned]),
        closed: true,
        fill: stroke,
        fillOpacity: 0.16,
        clip,
      }
    })
    const line: Item = {
      kind: 'path',
      part: 'marks',
      points: Float64Array.from(at(curve.y)),
      closed: false,
      stroke,
      width: Math.max(0.75, width * 0.75),
      clip,
    }
    return [...bands, line]
  })
}

function contourItems(
  figure: RenderedFigure,
  { contours }: MatrixCell,
  x: Scale,
  y: Scale,
  clip: Box,
): Item[] {
  // Tints of several groups would mix to one that none of them has: their lines tell them apart.
  const isOne = new Set(contours.map(({ code }) => code)).size < 2
  return contours.map(({ code, points }): Item => {
    const placed = new Float64Array(points.length)
    for (let i = 0; i < points.length; i += 2) {
      placed[i] = x.toPage(points[i])
      placed[i + 1] = y.toPage(points[i + 1])
    }
    const colour = codeColour(figure, code)
    return {
      kind: 'path',
      part: 'marks',
      points: placed,
      closed: true,
      ...(isOne ? { fill: colour, fillOpacity: CONTOUR_OPACITY } : {}),
      stroke: colour,
      width: isOne ? 0.9 : 1.2,
      clip,
    }
  })
}

function countItems({ counts: [grid] }: MatrixCell, x: Scale, y: Scale, clip: Box): Item[] {
  if (!grid) return []
  const { across, x_low, x_high, y_low, y_high, counts } = grid
  const most = Math.max(...counts)
  const step = { x: (x_high - x_low) / across, y: (y_high - y_low) / across }
  return counts.flatMap((n, k): Item[] => {
    if (!n) return []
    const [c, r] = [k % across, Math.floor(k / across)]
    const left = x.toPage(x_low + c * step.x)
    const right = x.toPage(x_low + (c + 1) * step.x)
    const foot = y.toPage(y_low + r * step.y)
    const top = y.toPage(y_low + (r + 1) * step.y)
    return [
      {
        kind: 'path',
        part: 'marks',
        points: Float64Array.of(left, top, right, top, right, foot, left, foot),
        closed: true,
        // Few stand out less than their number says, so that the root is shown.
        fill: dew(0.15 + 0.85 * Math.sqrt(n / most)),
        fillOpacity: 1,
        clip,
      },
    ]
  })
}

/** The smallest words of a cell beside those of ticks. */
const LEAST_OF_TICKS = 0.62

/** r as a number sized by its strength, or as the ellipse of such a pair. */
function rItems(figure: RenderedFigure, cell: MatrixCell, box: Box, measure: Measure): Item[] {
  const { document } = figure
  if (cell.r === null) return []
  const pen = penFor(document, 'readings')
  const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
  const items: Item[] = []
  const strength = Math.abs(cell.r)
  // Of all rows: in no group's colour.
  const base = INK
  if (matrixOf(document).r_as === 'ellipse') {
    const turn = Math.acos(Math.max(-1, Math.min(1, cell.r)))
    const reach = Math.min(box.width * 0.4, box.height * 0.27)
    const points = Array.from({ length: 73 }, (_, k) => (k * Math.PI) / 36).flatMap((t) => [
      middle.x + reach * Math.cos(t + turn / 2),
      box.y + box.height * 0.34 - reach * Math.cos(t - turn / 2),
    ])
    items.push({
      kind: 'path',
      part: 'marks',
      points: Float64Array.from(points),
      closed: true,
      fill: base,
      fillOpacity: 0.15 + 0.5 * strength,
      stroke: base,
      width: 1,
    })
  }
  const line = (
    words: string,
    y: number,
    size: number,
    colour: Colour,
    weight: 400 | 600,
  ): void => {
    const runs = parseRuns(words)
    const wide = widthOf(runs, { ...pen, size, weight }, measure)
    const fit = Math.min(1, (box.width - 6) / wide)
    items.push({
      kind: 'text',
      part: 'readings',
      x: middle.x,
      y,
      runs,
      size: size * fit,
      weight,
      face: pen.face,
      colour,
      anchor: 'middle',
      turn: 0,
    })
  }
  const ellipse = matrixOf(document).r_as === 'ellipse'
  const least = penFor(document, 'tick_labels').size * LEAST_OF_TICKS
  const small = Math.max(least, Math.min(10, box.height * 0.1, box.width * 0.09))
  // As many groups as have room; all of them, or none is told from the others.
  const room = Math.floor((box.height * 0.55) / (small * 1.15)) - 1
  const groups = cell.groups.length <= room ? cell.groups : []
  const largest = Math.min(26, box.height * 0.32, box.width * 0.3) * (groups.length ? 0.75 : 1)
  const size = ellipse ? Math.max(7, largest * 0.6) : Math.max(9, largest * (0.4 + 0.6 * strength))
  const rows = (cell.low !== null ? 1 : 0) + groups.length
  // Below its ellipse, so that neither runs through the other.
  const centre = ellipse ? box.y + box.height * 0.74 : middle.y
  let y = centre + size * 0.34 - (rows * small * 1.15) / 2
  const ink = ellipse ? INK : mixed(base, fromHex(document.page.background), 0.55 + 0.45 * strength)
  line(shareText(cell.r), y, size, ellipse ? INK : ink, 600)
  y += small * 1.3
  if (cell.low !== null && cell.high !== null) {
    line(`${shareText(cell.low)} to ${shareText(cell.high)}`, y, small, SOFT_INK, 400)
    y += small * 1.15
  }
  for (const { code, r } of groups) {
    line(shareText(r), y, small, codeColour(figure, code), 600)
    y += small * 1.15
  }
  return items
}
