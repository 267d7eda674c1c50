/** What drawing a kind of figure takes. */
import type { Figure } from '@/drawing/drawn'
import type { View } from '@/drawing/layout/extents'
import type { Layout } from '@/drawing/layout/figure'
import type { Setting } from '@/drawing/layout/insets'
import type { Scene } from '@/drawing/scene'
import type { Measure } from '@/drawing/text/text'

export interface DrawnKind {
  scene: (figure: Figure, measure: Measure) => Scene
  /** A small picture, without words. */
  thumbnail: (figure: Figure, width: number, height: number) => Scene
  /** Its one pair of axes, which others can share and stand in line with; null where it has none. */
  axes: {
    home: (figure: Figure) => View
    layout: (figure: Figure, measure: Measure, view?: View, setting?: Setting) => Layout
  } | null
  /** Says what stands at a place of the page, for a figure that is made of parts. */
  saying?: (figure: Figure, measure: Measure) => (x: number, y: number) => string
  /** What there is to be pointed at. */
  hint?: string
}
