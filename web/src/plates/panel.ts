/** A figure as a part of a plate. */
import type { PlateDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'

/** A place of the plate: its figure, and what stands above it. */
export interface Panel {
  /** Null where it is not there any more, or not yet. */
  figure: RenderedFigure | null
  heading: string
  /** Said in the figure's place where there is none. */
  problem: string
}

/** A figure as it stands in its place: its page is its cell, its ink and words are the plate's. */
export function panelFigure(
  plate: PlateDocument,
  figure: RenderedFigure,
  width: number,
  height: number,
): RenderedFigure {
  const { document } = figure
  const { ink } = plate
  const inked = <T extends { width: number }>(part: T): T => ({ ...part, width: part.width * ink })
  return {
    ...figure,
    document: {
      ...document,
      caption: null,
      page: { ...document.page, width, height, background: plate.page.background, frame: null },
      type: { ...document.type, scale: plate.text },
      marks: { ...document.marks, size: Math.max(1, document.marks.size * ink) },
      size: document.size && { ...document.size, largest: document.size.largest * ink },
      axes: { ...document.axes, x: inked(document.axes.x), y: inked(document.axes.y) },
      trends: document.trends.map(inked),
      legend:
        plate.legend === 'each' ? document.legend : { ...document.legend, place: 'none' as const },
    },
  }
}
