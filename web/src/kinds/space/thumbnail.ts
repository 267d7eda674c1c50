/** A 3-D scatterplot as a small picture: the box as it is turned, without words. */
import type { RenderedFigure } from '@/render/figure'
import { layoutSpace } from '@/render/layout/space'
import type { Scene } from '@/render/scene'

/** Drawn so many times as large, and then made small with all that is on it. */
const LARGER = 3

export function thumbnail(figure: RenderedFigure, width: number, height: number): Scene {
  const { document } = figure
  const { axes } = document
  const bare = <Axis extends { ticks: string; title: string | null }>(axis: Axis): Axis => ({
    ...axis,
    ticks: 'none',
    title: ' ',
  })
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
      marks: { ...document.marks, size: Math.max(7, document.marks.size) },
      axes: { ...axes, x: bare(axes.x), y: bare(axes.y) },
      space: {
        ...document.space!,
        axis: bare(document.space!.axis),
        plane: document.space!.plane && { ...document.space!.plane, on_figure: [], read_off: [] },
      },
    },
  }
  const { scene } = layoutSpace(
    small,
    (text, size) => text.length * size * 0.5,
    undefined,
    false,
    true,
  )
  return { ...scene, items: scene.items.filter(({ kind }) => kind !== 'text') }
}
