/** A figure of a pair of axes, drawn. */
import { homeView } from '@/render/layout/extents'
import { layoutFigure } from '@/render/layout/figure'
import type { DrawnKind } from '@/kinds/renderer'
import { zooming } from './looking'
import { thumbnail } from './thumbnail'

export const scatterplot: DrawnKind = {
  scene: (figure, measure) => layoutFigure(figure, measure).scene,
  thumbnail,
  axes: { home: homeView, layout: layoutFigure },
  looking: zooming,
}
