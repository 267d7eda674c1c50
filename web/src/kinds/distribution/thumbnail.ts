/** A distribution as a small picture: its lanes, without words. */
import type { RenderedFigure } from '@/render/figure'
import { layoutDistribution } from '@/render/layout/distribution'
import type { Scene } from '@/render/scene'

/** Drawn so many times as large, and then made small with all that is on it. */
const LARGER = 3

export function thumbnail(figure: RenderedFigure, width: number, height: number): Scene {
  const { document } = figure
  const small: RenderedFigure = {
    ...figure,
    document: {
      ...document,
      title: null,
      subtitle: null,
      caption: null,
      names: null,
      notes: [],
      page: { ...document.page, width: LARGER * width, height: LARGER * height, frame: null },
      legend: { ...document.legend, place: 'none' },
      axes: { ...document.axes, y: { ...document.axes.y, title: ' ' } },
    },
  }
  const { scene } = layoutDistribution(small, (text, size) => text.length * size * 0.5)
  return { ...scene, items: scene.items.filter(({ kind }) => kind !== 'text') }
}
