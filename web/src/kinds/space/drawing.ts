/** The 3-D scatterplot, drawn. */
import { layoutSpace } from '@/render/layout/space'
import type { DrawnKind } from '@/kinds/renderer'
import { turning } from './looking'
import { thumbnail } from './thumbnail'

export const space: DrawnKind = {
  scene: (figure, measure) => layoutSpace(figure, measure).scene,
  thumbnail,
  axes: null,
  looking: turning,
}
