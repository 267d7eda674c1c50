/** A matrix as a small picture: its cells without words, and r as a tile of its sign and strength. */
import { CATEGORIES } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { corners, grown } from '@/render/geometry/boxes'
import { layoutMatrix } from '@/render/layout/matrix'
import { contentOf } from '@/render/parts/matrix/style'
import type { Item, Scene } from '@/render/scene'

/** The faintest tile is seen to be one. */
const LEAST = 0.06

export function thumbnail(figure: RenderedFigure, width: number, height: number): Scene {
  const { document } = figure
  const small = {
    ...document,
    title: null,
    subtitle: null,
    caption: null,
    page: { ...document.page, width: 4 * width, height: 4 * height },
    legend: { ...document.legend, place: 'none' as const },
    matrix: { ...document.matrix!, names: false, axes: 'none' as const },
  }
  const { scene, cells } = layoutMatrix(
    { ...figure, document: small },
    (text, size) => text.length * size * 0.5,
  )
  const tiles = cells
    .filter(({ cell }) => contentOf(small, cell) === 'r' && cell.r !== null)
    .map(({ cell, box }): Item => ({
      kind: 'path',
      part: 'ground',
      points: corners(grown(box, -1)),
      closed: true,
      fill: CATEGORIES[cell.r! < 0 ? 1 : 0],
      fillOpacity: LEAST + (1 - LEAST) * Math.abs(cell.r!),
    }))
  // Numbers would be specks.
  return { ...scene, items: [...scene.items.filter(({ kind }) => kind !== 'text'), ...tiles] }
}
