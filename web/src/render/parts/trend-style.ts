/** How a trend is told from others: its colour, its dashes, its part of the figure. */
import type { Answer, FigureDocument, TrendAnswer } from '@/api/types'
import { fromHex, INK } from '@/render/colours'
import { colourOn } from '@/render/marks/looks'
import type { Colour, Part } from '@/render/scene'

/** What a trend is drawn with, as dashes of a line of its width. */
export const dashOf = (dash: 'solid' | 'dashed' | 'dotted', width: number): number[] =>
  dash === 'solid' ? [] : dash === 'dashed' ? [3.5 * width, 2.5 * width] : [0.5, 2.2 * width]

export const trendColour = (
  document: FigureDocument,
  { colour }: Answer,
  { trend, group_code: code }: TrendAnswer,
): Colour => {
  const own = (document.trends[trend] ?? document.space?.plane)?.colour
  if (own) return fromHex(own)
  return code === null || colour === null ? INK : colourOn(document, colour, code)
}

export const partOf = (trend: TrendAnswer): Part => `trend-${trend.trend}`
