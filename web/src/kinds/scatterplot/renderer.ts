/** A figure of a pair of axes, drawn. */
import { homeView } from '@/render/layout/extents'
import { layoutFigure } from '@/render/layout/figure'
import type { FigureRenderer } from '@/kinds/renderer'
import { panZoomController } from './view-controller'
import { thumbnail } from './thumbnail'

export const scatterplot: FigureRenderer = {
  scene: (figure, measure) => layoutFigure(figure, measure).scene,
  thumbnail,
  axes: { home: homeView, layout: layoutFigure },
  looking: panZoomController,
}
