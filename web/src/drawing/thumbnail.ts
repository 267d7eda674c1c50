/** A figure as a small picture: its marks and lines, without words. */
import { PAPER } from './colours'
import { homeView, type Figure } from './layout'
import { looksOf } from './looks'
import { linearScale } from './scale'
import type { Item, Scene } from './scene'
import { drawnTrends, lineItems } from './trends'

const INSET = 6

export function thumbnail(figure: Figure, width: number, height: number): Scene {
  const { document, answer, marks } = figure
  const view = homeView(figure)
  const x = linearScale(view.x, [INSET, width - INSET])
  const y = linearScale(view.y, [height - INSET, INSET])
  const clip = { x: 0, y: 0, width, height }
  const { looks, of } = looksOf(document, answer, marks, width * height)
  const opacity = marks.row.length > 300 ? 0.6 : 0.9
  const lines = lineItems(drawnTrends(answer, x, y), clip).map((item): Item =>
    item.kind === 'path' ? { ...item, width: 1.2 } : item,
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
        x: Float32Array.from(marks.x, x.toPage),
        y: Float32Array.from(marks.y, y.toPage),
        look: of,
        looks: looks.map((look) => ({ ...look, size: 2.2, opacity, halo: 0, hollow: false })),
        paper: PAPER,
        clip,
      },
      ...lines,
    ],
  }
}
