/** A figure as a small picture: its marks and lines, without words. */
import type { CellSide } from '@/api/types'
import { PAPER } from '@/render/colours'
import { homeView } from '@/render/layout/extents'
import type { RenderedFigure } from '@/render/figure'
import { looksOf } from '@/render/marks/looks'
import { mapped } from '@/render/geometry/columns'
import { makeScale, transformOf, type Scale } from '@/render/geometry/scale'
import type { Cells, Item, Scene } from '@/render/scene'
import { drawnTrends, lineItems } from '@/render/parts/trends'

const INSET = 6

/** The cells of a dataset as they lie on the picture. */
function cellsOn({ answer, marks }: RenderedFigure, x: Scale, y: Scale): Cells | undefined {
  if (!answer.cells || !marks.count) return undefined
  const side = ({ low, high, count }: CellSide, { factor }: Scale): number =>
    Math.abs(((high - low) / count) * factor)
  const { across, up } = answer.cells
  return { counts: marks.count, width: side(across, x), height: side(up, y) }
}

export function thumbnail(figure: RenderedFigure, width: number, height: number): Scene {
  const { document, answer, marks } = figure
  const view = homeView(figure)
  const { x: across, y: up } = document.axes
  const right = [INSET, width - INSET] as const
  const top = [height - INSET, INSET] as const
  const x = makeScale(
    transformOf(across.scale),
    view.x,
    across.reversed ? [right[1], right[0]] : right,
  )
  const y = makeScale(transformOf(up.scale), view.y, up.reversed ? [top[1], top[0]] : top)
  const clip = { x: 0, y: 0, width, height }
  const { looks, of, sizes } = looksOf(document, answer, marks, width * height)
  // Bubbles shrink with the page.
  const shrink = sizes
    ? Math.sqrt((width * height) / (document.page.width * document.page.height))
    : 0
  const opacity = marks.row.length > 300 ? 0.6 : 0.9
  const lines = lineItems(document, drawnTrends(document, answer, x, y), clip).map((item): Item =>
    item.kind === 'path' ? { ...item, width: 1.2, dash: [] } : item,
  )
  return {
    width,
    height,
    paper: PAPER,
    regions: [],
    items: [
      {
        kind: 'marks',
        part: 'marks',
        x: mapped(marks.x, (v) => x.toPage(v) || -99),
        y: mapped(marks.y, (v) => y.toPage(v) || -99),
        look: of,
        looks: looks.map((look) => ({
          ...look,
          size: Math.max(2.2, look.size * shrink),
          opacity,
          halo: 0,
          hollow: false,
        })),
        density: marks.count !== null,
        cells: cellsOn(figure, x, y),
        paper: PAPER,
        clip,
      },
      ...lines,
    ],
  }
}
