/** Error bars: whiskers with their caps, in the colours of their marks. */
import type { FigureDocument, Marks } from '@/api/types'
import type { Scale } from '@/render/geometry/scale'
import { BAR_OPACITY, hasManyBars } from '@/render/marks/bars'
import type { Looks } from '@/render/marks/looks'
import { OFF_THE_PAGE } from '@/render/marks/places'
import type { Box, Colour, Item, SegmentsItem } from '@/render/scene'
import type { Scales } from './overlays'

/** Bars as lines, where they are not drawn with their marks. */
export function barItems(
  document: FigureDocument,
  marks: Marks,
  looks: Looks,
  places: { x: Float32Array; y: Float32Array },
  { x, y }: Scales,
  clip: Box,
): Item[] {
  if (hasManyBars(document, marks)) return []
  return (['x', 'y'] as const).flatMap((side) => {
    const bar = document.error_bars[side]
    const lows = marks[`${side}_low`]
    const highs = marks[`${side}_high`]
    if (!bar || !lows || !highs) return []
    const scale = side === 'x' ? x : y
    const across = side === 'x' ? places.y : places.x
    const byColour = new Map<string, { colour: Colour; points: number[] }>()
    for (let i = 0; i < lows.length; i++) {
      if (Number.isNaN(lows[i]) || Number.isNaN(highs[i]) || across[i] === OFF_THE_PAGE) continue
      const { colour } = looks.looks[looks.of[i]]
      const held = byColour.get(colour.join()) ?? { colour, points: [] }
      byColour.set(colour.join(), held)
      const from = placeOn(scale, lows[i])
      const to = placeOn(scale, highs[i])
      const at = across[i]
      const half = bar.cap / 2
      const lines = [
        [from, at, to, at],
        [from, at - half, from, at + half],
        [to, at - half, to, at + half],
      ]
      for (const [a, b, c, d] of bar.cap > 0 ? lines : lines.slice(0, 1))
        held.points.push(...(side === 'x' ? [a, b, c, d] : [b, a, d, c]))
    }
    return [...byColour.values()].map(({ colour, points }): SegmentsItem => ({
      kind: 'segments',
      part: 'marks',
      points: Float64Array.from(points),
      stroke: colour,
      opacity: BAR_OPACITY,
      width: bar.width,
      clip,
    }))
  })
}

/** An end that a logarithmic axis has no place for stands at its edge. */
const placeOn = (scale: Scale, value: number): number => {
  const place = scale.toPage(value)
  return Number.isFinite(place) ? place : scale.range[0]
}
