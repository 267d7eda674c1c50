/** A matrix as a small picture: its cells as they are, without words. */
import type { Figure } from '@/drawing/drawn'
import { layoutMatrix } from '@/drawing/layout/matrix'
import type { Scene } from '@/drawing/scene'

export function thumbnail(figure: Figure, width: number, height: number): Scene {
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
  const { scene } = layoutMatrix(
    { ...figure, document: small },
    (text, size) => text.length * size * 0.5,
  )
  return scene
}
