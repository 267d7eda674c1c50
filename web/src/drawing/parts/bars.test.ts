import { describe, expect, it } from 'vitest'
import { blankBar, blankDocument } from '@/api/blank'
import type { Marks } from '@/api/types'
import { makeScale, warpOf } from '@/drawing/geometry/scale'
import type { Looks } from '@/drawing/marks/looks'
import type { SegmentsItem } from '@/drawing/scene'
import { NO_MARKS } from '@/drawing/testing'
import { barItems } from './bars'

const CLIP = { x: 40, y: 20, width: 300, height: 200 }
const HALF_A_STEP = 0.2500001

describe('very many error bars', () => {
  // Numbers that look like chance, and are the same each time.
  let state = 7
  const chance = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647
  const count = 9_000
  const at = Float64Array.from({ length: count }, () => -0.1 + 1.2 * chance())
  const low = Float64Array.from({ length: count }, () => chance())
  const high = low.map((v, i) => (i % 50 ? v + 0.05 * chance() : NaN))
  const scales = {
    x: makeScale(warpOf('linear'), [0, 1], [CLIP.x, CLIP.x + CLIP.width]),
    y: makeScale(warpOf('linear'), [0, 1], [CLIP.y + CLIP.height, CLIP.y]),
  }
  const looks = {
    looks: [{ colour: [1, 2, 3] }, { colour: [200, 2, 3] }],
    of: Uint16Array.from({ length: count }, (_, i) => i % 2),
  } as unknown as Looks

  const drawn = (side: 'x' | 'y'): SegmentsItem[] => {
    const document = blankDocument('t', 'a', 'b')
    document.error_bars[side] = { ...blankBar(), cap: 4 }
    const marks = { ...NO_MARKS, [`${side}_low`]: low, [`${side}_high`]: high } as unknown as Marks
    const places = Float32Array.from(at, scales[side === 'x' ? 'y' : 'x'].toPage)
    return barItems(
      document,
      marks,
      looks,
      { x: places, y: places },
      scales,
      CLIP,
    ) as SegmentsItem[]
  }

  it.each(['x', 'y'] as const)('are drawn where they are, and nowhere else, along %s', (side) => {
    const items = drawn(side)
    expect(items).toHaveLength(2)
    const [along, across] = side === 'x' ? [0, 1] : [1, 0]
    const begin = [CLIP.x, CLIP.y]
    const end = [CLIP.x + CLIP.width, CLIP.y + CLIP.height]
    items.forEach(({ points }, colour) => {
      const lines: number[][] = []
      for (let k = 0; k < points.length; k += 4) lines.push([...points.slice(k, k + 4)])
      expect(lines.length).toBeLessThan(count)
      const bars = lines.filter((line) => line[across] === line[across + 2])
      const wanted = [...at.keys()].filter((i) => i % 2 === colour && !Number.isNaN(high[i]))
      const ends = wanted.map((i) =>
        [low[i], high[i]].map(scales[side].toPage).sort((a, b) => a - b),
      )
      const places = wanted.map((i) => Math.fround(scales[side === 'x' ? 'y' : 'x'].toPage(at[i])))
      wanted.forEach((_, k) => {
        const middle = (ends[k][0] + ends[k][1]) / 2
        const isSeen =
          places[k] > begin[across] &&
          places[k] < end[across] &&
          middle > begin[along] &&
          middle < end[along] &&
          ends[k][1] - ends[k][0] > 1
        if (!isSeen) return
        const isCovered = bars.some(
          (line) =>
            Math.abs(line[across] - places[k]) < HALF_A_STEP &&
            line[along] <= middle &&
            line[along + 2] >= middle,
        )
        if (!isCovered) throw new Error(`A bar at ${places[k]} is not drawn.`)
      })
      for (const line of bars) {
        const middle = (line[along] + line[along + 2]) / 2
        const isOfOne = wanted.some(
          (_, k) =>
            Math.abs(line[across] - places[k]) < HALF_A_STEP &&
            ends[k][0] - HALF_A_STEP <= middle &&
            ends[k][1] + HALF_A_STEP >= middle,
        )
        if (!isOfOne) throw new Error(`Nothing stands at ${line.join()}.`)
      }
    })
  })
})
