/** What drawing a kind of figure takes. */
import type { FigureDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { View } from '@/render/layout/extents'
import type { Layout } from '@/render/layout/figure'
import type { Setting } from '@/render/layout/insets'
import type { Scene } from '@/render/scene'
import type { Measure } from '@/render/text/text'

/** How one looks at a figure: what a hand, a wheel and keys change of the view. */
export interface ViewController<View> {
  home(figure: RenderedFigure): View
  /** @param moving while a hand moves it: what takes long may be left out then */
  layout(figure: RenderedFigure, measure: Measure, view: View, moving: boolean): Layout
  /** With what a view begins that is kept in the document. */
  first?(): View
  /** Nearer or further about a place on the page; null where there is no further. */
  zoom(view: View, layout: Layout, about: [number, number], factor: number): View | null
  /** As by a drag, in points to the right and down. */
  pan(view: View, layout: Layout, dx: number, dy: number): View
  /** As by an arrow key: to the right and up. */
  step(view: View, layout: Layout, right: number, up: number): View
  /** What of a view a figure still has a place for. */
  held(view: View, figure: RenderedFigure): View
  /** What of the document changes the view when it is changed; back home where it gives null. */
  follows: readonly {
    of: (figure: RenderedFigure) => string
    follow(view: View, figure: RenderedFigure): View | null
  }[]
  /** Keeps the view in the document, where it is a part of the figure. */
  kept?(draft: FigureDocument, view: View): void
  /** Whether it is turned by a drag, with whatever tool points. */
  isTurned?: boolean
}

export interface FigureRenderer {
  scene: (figure: RenderedFigure, measure: Measure) => Scene
  /** A small picture, without words. */
  thumbnail: (figure: RenderedFigure, width: number, height: number) => Scene
  /** Its one pair of axes, which others can share and stand in line with; null where it has none. */
  axes: {
    home: (figure: RenderedFigure) => View
    layout: (figure: RenderedFigure, measure: Measure, view?: View, setting?: Setting) => Layout
  } | null
  /** How one looks closer; null where one does not. */
  looking: ViewController<unknown> | null
  /** Says what stands at a place of the page, for a figure that is made of parts. */
  saying?: (figure: RenderedFigure, measure: Measure) => (x: number, y: number) => string
  /** All that stands there to be read, in sentences; the axes of a figure where it is left out. */
  says?: (figure: RenderedFigure) => string[]
  /** What there is to be pointed at. */
  hint?: string
}
