/** The room that axes, words and a legend take, and the plot that is left. */
import type { FigureDocument } from '@/api/types'
import { fitAxis, pensOf, withoutWords, type Fitted, type Side } from '@/render/parts/axes'
import { marginRoom } from '@/render/parts/margins'
import { padOf, type FigureWords } from '@/render/parts/words'
import { isWhole } from '@/render/geometry/whole'
import { makeScale, transformOf, type Scale } from '@/render/geometry/scale'
import type { Box } from '@/render/scene'
import { titled } from '@/render/text/titled'
import type { Measure } from '@/render/text/text'
import type { RenderedFigure } from '@/render/figure'
import type { View } from './extents'

/** Room beside the plot, in points. */
export interface Insets {
  left: number
  right: number
  top: number
  bottom: number
}

/** What is kept free beside and below the plot, for a legend and readings. */
export interface Room {
  right: number
  below: number
}

/** How a figure fits in with others on a page. */
export interface Setting {
  /** At least so much room is kept, so that plots stand in line. */
  least?: Insets
  /** Axes that another figure labels. */
  unlabelled?: { x: boolean; y: boolean }
}

/** The plot, and the axes as they fit beside it. */
export interface Arranged {
  plot: Box
  x: Fitted
  y: Fitted
}

const NO_ROOM: Insets = { left: 0, right: 0, top: 0, bottom: 0 }

/** @param kept room for what stands beside and below the plot */
export function arrange(
  { document, answer, marks }: RenderedFigure,
  view: View,
  words: FigureWords,
  kept: Room,
  { least = NO_ROOM, unlabelled }: Setting,
  measure: Measure,
): Arranged {
  const { width, height } = document.page
  const pad = padOf(document)
  const right = kept.right + marginRoom(document, answer, 'y')
  const top = Math.max(least.top, words.top + marginRoom(document, answer, 'x'))
  const pens = pensOf(document)
  const fitted = (side: Side, length: number): Fitted => {
    const axis = document.axes[side]
    const { variable } = answer[side]
    const scale = makeScale(transformOf(axis.scale), view[side], axis.reversed ? [1, 0] : [0, 1])
    const title = axis.title ?? titled(variable)
    const isDate = variable.kind === 'date'
    const wanted = { axis, isDate, isWhole: isWhole(marks[side]), title, pens }
    const made = fitAxis(side, wanted, scale.toPage, view[side], length, measure)
    return unlabelled?.[side] ? withoutWords(made) : made
  }
  const guess = fitted('x', width * 0.7)
  const y = fitted('y', height - top - pad - guess.room - kept.below - words.below)
  const left = Math.max(least.left, pad + y.room)
  const x = fitted('x', width - left - pad - right)
  const reach = Math.max(pad, x.overhang + 4)
  const bottom = Math.max(least.bottom, pad + x.room + kept.below + words.below)
  const plot = {
    x: left,
    y: top,
    width: Math.max(20, width - left - Math.max(least.right, reach + right)),
    height: Math.max(20, height - top - bottom),
  }
  return { plot, x, y }
}

export interface Scales {
  x: Scale
  y: Scale
}

export function scalesOf({ axes }: FigureDocument, ends: View, plot: Box): Scales {
  const [left, right] = [plot.x, plot.x + plot.width]
  const [top, bottom] = [plot.y, plot.y + plot.height]
  return {
    x: makeScale(
      transformOf(axes.x.scale),
      ends.x,
      axes.x.reversed ? [right, left] : [left, right],
    ),
    y: makeScale(
      transformOf(axes.y.scale),
      ends.y,
      axes.y.reversed ? [top, bottom] : [bottom, top],
    ),
  }
}

/** The largest part of the plot on which a unit is as long across as up. */
export function squared(plot: Box, { x, y }: View): Box {
  const unit = Math.min(plot.width / (x[1] - x[0]), plot.height / (y[1] - y[0]))
  const [width, height] = [unit * (x[1] - x[0]), unit * (y[1] - y[0])]
  return { x: plot.x, y: plot.y + plot.height - height, width, height }
}
