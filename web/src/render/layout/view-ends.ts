/** Moving and zooming what is in view. */
import type { View } from '@/render/layout/extents'
import { isUsable, moved, zoomed, type Scale } from '@/render/geometry/scale'

type Scales = Record<'x' | 'y', Scale>

/** Moved by shares of its own width and height. */
export function moveView(view: View, { x, y }: Scales, byX: number, byY: number): View {
  return { x: moved(view.x, byX, x.warp), y: moved(view.y, byY, y.warp) }
}

/** Zoomed about a value; null where it would be too narrow to tell values apart. */
export function zoomView(
  view: View,
  { x, y }: Scales,
  about: { x: number; y: number },
  factor: number,
): View | null {
  const next = {
    x: zoomed(view.x, about.x, factor, x.warp),
    y: zoomed(view.y, about.y, factor, y.warp),
  }
  return isUsable(next.x) && isUsable(next.y) ? next : null
}
