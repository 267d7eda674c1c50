/** Looking at a pair of axes: zoomed and moved about, which is nobody else's matter. */
import { homeView, type View } from '@/render/layout/extents'
import { layoutFigure, type Layout } from '@/render/layout/figure'
import type { RenderedFigure } from '@/render/figure'
import { transformOf, type Extent, type ScaleName } from '@/render/geometry/scale'
import { moveView, zoomView } from '@/render/layout/view-ends'
import type { ViewController } from '@/kinds/renderer'

const STEP = 0.05

const hasPlace = ([low, high]: Extent, scale: ScaleName): boolean => {
  const { least } = transformOf(scale)
  return low >= least && high > low && Number.isFinite(low) && Number.isFinite(high)
}

/** Which way values grow on the page: to the right and up, unless an axis is reversed. */
const directions = ({ x, y }: Layout): [number, number] => [
  x.range[0] < x.range[1] ? 1 : -1,
  y.range[0] > y.range[1] ? 1 : -1,
]

/** Ends that are typed or dragged are what is wanted to be seen, however it was zoomed before. */
const followed = (side: 'x' | 'y') => ({
  of: ({ document: { axes } }: RenderedFigure): string => {
    const { low, high, scale, base } = axes[side]
    return JSON.stringify([low, high, scale, base])
  },
  follow: (view: View, figure: RenderedFigure): View => ({
    ...view,
    [side]: homeView(figure)[side],
  }),
})

export const panZoomController: ViewController<View> = {
  home: homeView,
  layout: (figure, measure, view) => layoutFigure(figure, measure, view),
  zoom: (view, layout, [x, y], factor) =>
    zoomView(view, layout, { x: layout.x.fromPage(x), y: layout.y.fromPage(y) }, factor),
  pan: (view, layout, dx, dy) => {
    const [right, up] = directions(layout)
    const { width, height } = layout.plot
    return moveView(view, layout, (-right * dx) / width, (up * dy) / height)
  },
  step: (view, layout, right, up) => moveView(view, layout, right * STEP, up * STEP),
  /** What is in view: of each axis, as far as its scale has a place for it. */
  held: (view, figure) => {
    const home = homeView(figure)
    const { axes } = figure.document
    return {
      x: hasPlace(view.x, axes.x.scale) ? view.x : home.x,
      y: hasPlace(view.y, axes.y.scale) ? view.y : home.y,
    }
  },
  follows: [followed('x'), followed('y')],
}
