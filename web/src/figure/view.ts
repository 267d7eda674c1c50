/** Moving and zooming what is in view. */
import type { View } from '@/drawing/layout'
import { isUsable, moved, zoomed } from '@/drawing/scale'

/** Moved by shares of its own width and height. */
export function moveView(view: View, byX: number, byY: number): View {
  return {
    x: moved(view.x, byX * (view.x[1] - view.x[0])),
    y: moved(view.y, byY * (view.y[1] - view.y[0])),
  }
}

/** Zoomed about a value; null where it would be too narrow to tell values apart. */
export function zoomView(view: View, about: { x: number; y: number }, factor: number): View | null {
  const next = { x: zoomed(view.x, about.x, factor), y: zoomed(view.y, about.y, factor) }
  return isUsable(next.x) && isUsable(next.y) ? next : null
}
