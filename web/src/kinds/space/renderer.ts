/** The 3-D scatterplot, drawn. */
import { layoutSpace } from '@/render/layout/space'
import type { FigureRenderer } from '@/kinds/renderer'
import { orbitController } from './view-controller'
import { thumbnail } from './thumbnail'

export const space: FigureRenderer = {
  scene: (figure, measure) => layoutSpace(figure, measure).scene,
  thumbnail,
  axes: null,
  looking: orbitController,
}
