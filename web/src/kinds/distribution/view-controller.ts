/** Looking at a distribution: zoomed and moved along its values; lanes stay where they are. */
import { layoutDistribution, valueEnds } from '@/render/layout/distribution'
import type { Layout } from '@/render/layout/figure'
import { isUsable, moved, zoomed, type Extent, type Scale } from '@/render/geometry/scale'
import type { ViewController } from '@/kinds/renderer'

const STEP = 0.05

const valuesOf = ({ x, y, isTurned }: Layout): Scale => (isTurned ? x : y)

const by = (extent: Extent, layout: Layout, share: number): Extent =>
  moved(extent, share, valuesOf(layout).warp)

export const valueAxisController: ViewController<Extent> = {
  home: valueEnds,
  layout: (figure, measure, extent) => layoutDistribution(figure, measure, extent),
  zoom(extent, layout, [x, y], factor) {
    const scale = valuesOf(layout)
    const next = zoomed(extent, scale.fromPage(layout.isTurned ? x : y), factor, scale.warp)
    return isUsable(next) ? next : null
  },
  pan(extent, layout, dx, dy) {
    const { range } = valuesOf(layout)
    return by(extent, layout, -(layout.isTurned ? dx : dy) / (range[1] - range[0]))
  },
  step: (extent, layout, right, up) => by(extent, layout, (layout.isTurned ? right : up) * STEP),
  held: (extent) => extent,
  follows: [
    {
      of: ({ document: { axes, distribution } }) =>
        JSON.stringify([axes.y.low, axes.y.high, axes.y.scale, distribution]),
      follow: () => null,
    },
  ],
}
