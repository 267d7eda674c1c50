/** Names beside their points. */
import { fromHex } from '@/render/colours'
import { placeOf } from '@/render/geometry/mark-index'
import type { RenderedFigure } from '@/render/figure'
import { memoizeByDependencies } from '@/lib/lru-cache'
import { roundOf, type PlacedMarks } from '@/render/marks/places'
import { placeNames, type PlacedName } from '@/render/placement/names'
import type { Obstacles } from '@/render/placement/obstacles'
import type { Box, Item } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { printable, widthOf, type Measure } from '@/render/text/text'

/** By row that has a name, the place of its mark in the order of drawing. */
const drawnOf = memoizeByDependencies<Uint32Array, ReadonlyMap<number, number>>()

const placedFor = memoizeByDependencies<Uint32Array, PlacedName[]>()

const LEADER = fromHex('#8a9996')

export function namesOn(
  { document, answer, marks }: RenderedFigure,
  placed: PlacedMarks,
  plot: Box,
  obstacles: Obstacles,
  measure: Measure,
): { placed: PlacedName[]; items: Item[]; left: number } {
  const { names } = document
  if (!names || !answer.names) return { placed: [], items: [], left: 0 }
  const pen = penFor(document, 'names')
  const { size } = pen
  const at = drawnOf(placed.source, [marks.row, answer.names.rows], () => {
    const named = new Set(answer.names!.rows)
    const found = new Map<number, number>()
    placed.source.forEach((i, drawn) => {
      if (named.has(marks.row[i])) found.set(marks.row[i], drawn)
    })
    return found
  })
  const round = roundOf(placed)
  const texts = new Map<number, string>()
  const wanted = answer.names.rows.flatMap((row, k) => {
    const drawn = at.get(row)
    if (drawn === undefined) return []
    // As exactly as the mark itself is placed.
    const x = Math.fround(placeOf(round.u[drawn], round.across))
    const y = Math.fround(placeOf(round.v[drawn], round.down))
    const moved = (names.moved[String(row)] ?? null) as [number, number] | null
    const inside =
      x >= plot.x && x <= plot.x + plot.width && y >= plot.y && y <= plot.y + plot.height
    if (!inside || texts.has(row)) return []
    const text = printable(answer.names!.texts[k])
    texts.set(row, text)
    const width = widthOf([{ text, place: 'line' }], pen, measure)
    return [{ row, x, y, radius: placed.radius(drawn), width, height: size * 1.15, moved }]
  })
  // While a slider goes, names stand where they stood.
  const { looks, look } = placed.item
  const setting = [
    wanted,
    plot,
    round.across,
    round.down,
    looks.map(({ size: d }) => d),
    obstacles.digest,
  ]
  const found = placedFor(placed.source, [round.u, round.v, look, JSON.stringify(setting)], () =>
    placeNames(wanted, round, obstacles),
  )
  return {
    placed: found,
    left: wanted.length - found.length,
    items: found.flatMap(({ row, box, leader }): Item[] => [
      ...(leader
        ? [
            {
              kind: 'path' as const,
              part: 'names' as const,
              points: Float64Array.from(leader),
              closed: false,
              stroke: LEADER,
              width: 0.8,
            },
          ]
        : []),
      {
        kind: 'text',
        part: 'names',
        x: box.x,
        y: box.y + size * 0.9,
        runs: [{ text: texts.get(row)!, place: 'line' }],
        ...pen,
        anchor: 'start',
        turn: 0,
      },
    ]),
  }
}
