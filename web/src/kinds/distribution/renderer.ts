/** The distribution, drawn. */
import { layoutDistribution } from '@/render/layout/distribution'
import type { FigureRenderer } from '@/kinds/renderer'
import { valueAxisController } from './view-controller'
import { thumbnail } from './thumbnail'

export const distribution: FigureRenderer = {
  scene: (figure, measure) => layoutDistribution(figure, measure).scene,
  thumbnail,
  axes: null,
  looking: valueAxisController,
}
