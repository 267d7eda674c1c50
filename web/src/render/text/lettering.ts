/** How each part's words are written: size, weight, face and colour. */
import type { FigureDocument } from '@/api/types'
import { fromHex, INK, SOFT_INK } from '@/render/colours'
import type { Colour } from '@/render/scene'
import type { Hand, Weight } from './text'

/** A hand with the colour it writes in. */
export interface Pen extends Hand {
  colour: Colour
}

const USUAL = {
  title: [15, 600, INK],
  subtitle: [12.5, 400, SOFT_INK],
  caption: [12, 400, SOFT_INK],
  axis_titles: [12.5, 600, INK],
  tick_labels: [12, 400, INK],
  legend: [12, 400, INK],
  readings: [12.5, 600, INK],
  names: [11, 400, INK],
  notes: [12.5, 400, INK],
} satisfies Record<string, [size: number, weight: Weight, colour: Colour]>

/** A part of the figure that has words. */
export type Written = keyof typeof USUAL

/** The pen that a part is written with, at the figure's text scale. */
export function penFor({ type, names }: FigureDocument, part: Written): Pen {
  const [points, weight, colour] = USUAL[part]
  const own = part in type.parts ? type.parts[part] : null
  const size = part === 'names' && names ? names.size : points
  return {
    size: size * type.scale * (own?.size ?? 1),
    weight: own?.weight ?? weight,
    face: own?.face ?? 'sans',
    colour: own?.colour ? fromHex(own.colour) : colour,
  }
}

const [LEAST_GAUGE, MOST_GAUGE] = [0.45, 3]

/** How large gaps, ticks and margins are beside those of the screen: they go with the text. */
export const gaugeOf = ({ type }: FigureDocument): number =>
  Math.min(MOST_GAUGE, Math.max(LEAST_GAUGE, type.scale))

/** The same pen for a heading among its words. */
export const bold = (pen: Pen): Pen => ({ ...pen, weight: 600 })
