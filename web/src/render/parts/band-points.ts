/** Marks in the lanes of a distribution: scattered, stacked, or in the shape of their density. */
import type { Answer, Marks } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { offsetOf } from '@/render/geometry/jitter'
import { heightAt, stacked } from '@/render/geometry/category-bands'
import type { Scale } from '@/render/geometry/scale'
import type { LaneFrame } from './box-and-density'
import type { Box, Colour } from '@/render/scene'
import type { Looks } from '@/render/marks/looks'
import { placedAt, type PlacedMarks } from '@/render/marks/places'

const NO_GROUP = 0

/** The marks in their lanes: all of them, those far out alone, or none. */
export function pointsIn(
  figure: RenderedFigure,
  looks: Looks,
  frames: readonly LaneFrame[],
  value: Scale,
  clip: Box,
  paper: Colour,
): PlacedMarks {
  const { document, answer, marks } = figure
  const held = document.distribution!
  const key = JSON.stringify([
    held,
    value.domain,
    value.range,
    document.axes.y,
    clip,
    document.marks,
    document.size,
    document.colour,
    document.singled_out,
    document.page,
    figure.only,
  ])
  const known = latest.get(marks)
  if (known?.key === key && known.answer === answer) return known.placed
  const byCode = new Map(frames.map((one) => [one.spread.code ?? NO_GROUP, one]))
  const far = new Set(
    held.points === 'none' && held.box ? frames.flatMap(({ spread }) => spread.far) : [],
  )
  const shown: number[] = []
  let off = 0
  for (const i of orderOf(looks, marks.row.length)) {
    if (held.points === 'none' && !far.has(marks.row[i])) continue
    const frame = byCode.get(marks.group![i])
    if (!frame?.strip) continue
    if (Number.isNaN(value.toPage(marks.y[i]))) off++
    else shown.push(i)
  }
  const across = offsetsOf(figure, shown, byCode, value, looks)
  const x = new Float64Array(shown.length)
  const y = new Float64Array(shown.length)
  shown.forEach((i, k) => {
    const { at, strip } = byCode.get(marks.group![i])!
    const middle = (strip![0] + strip![1]) / 2
    const place = at(middle + across[k] * (strip![1] - strip![0]), marks.y[i])
    ;[x[k], y[k]] = place
  })
  const placed = placedAt(
    {
      x,
      y,
      look: Uint16Array.from(shown, (i) => looks.of[i]),
      looks: looks.looks,
      source: Uint32Array.from(shown),
      count: marks.row.length,
      off,
    },
    clip,
    paper,
  )
  latest.set(marks, { key, answer, placed })
  return placed
}

const latest = new WeakMap<Marks, { key: string; answer: Answer; placed: PlacedMarks }>()

function* orderOf({ order }: Looks, count: number): Generator<number> {
  for (let k = 0; k < count; k++) yield order ? order[k] : k
}

/** How wide points that are scattered at random are spread, in shares of their zone. */
const SCATTER = 0.66

/** Where marks stand across their strip, from −½ to ½. */
function offsetsOf(
  { document, marks }: RenderedFigure,
  shown: readonly number[],
  byCode: ReadonlyMap<number, LaneFrame>,
  value: Scale,
  looks: Looks,
): Float64Array {
  const held = document.distribution!
  const out = new Float64Array(shown.length)
  if (held.points === 'none') return out
  if (held.points === 'dots') {
    const groups = new Map<number, number[]>()
    shown.forEach((i, k) => {
      const list = groups.get(marks.group![i]) ?? []
      list.push(k)
      groups.set(marks.group![i], list)
    })
    const size = Math.max(1, ...shown.slice(0, 1000).map((i) => looks.looks[looks.of[i]].size))
    for (const [code, list] of groups) {
      const { at, strip } = byCode.get(code)!
      const [a, b] = strip!.map((share) => at(share, marks.y[shown[list[0]]]))
      const room = Math.hypot(b[0] - a[0], b[1] - a[1])
      const places = list.map((k) => value.toPage(marks.y[shown[k]]))
      stacked(places, size, Math.max(1, room - size)).forEach(
        (offset, n) => (out[list[n]] = offset),
      )
    }
    return out
  }
  shown.forEach((i, k) => {
    const random = offsetOf(marks.row[i], 4) / 2
    const { spread } = byCode.get(marks.group![i])!
    const most = spread.density.reduce((a, b) => Math.max(a, b), 0)
    const width =
      held.points === 'shaped' && most
        ? heightAt(spread.at, spread.density, marks.y[i]) / most
        : SCATTER
    out[k] = random * width
  })
  return out
}
