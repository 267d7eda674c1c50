/** The distribution, drawn. */
import { layoutDistribution } from '@/render/layout/distribution'
import type { DrawnKind } from '@/kinds/renderer'
import { alongValues } from './looking'
import { thumbnail } from './thumbnail'

export const distribution: DrawnKind = {
  scene: (figure, measure) => layoutDistribution(figure, measure).scene,
  thumbnail,
  axes: null,
  looking: alongValues,
}
