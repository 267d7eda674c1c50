/** A distribution laid out: which mark stands in which lane, and what the bars hold. */
import { describe, expect, it } from 'vitest'
import { blankDistribution, blankDocument } from '@/figure-model/blank'
import type { Answer, FigureDocument, Marks } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { PathItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'
import { layoutDistribution } from './distribution'

/** Values that are counted by hand: two groups whose codes are not in the order of the marks. */
const VALUES = [5, 6, 7, 25, 5, 15]
const GROUPS = [1, 1, 1, 0, 0, 0]

const spread = (group: string, code: number, own: number[], counts: number[]) => ({
  group,
  code,
  colour_code: null,
  n: own.length,
  mean: { value: own.reduce((a, b) => a + b) / own.length, low: null, high: null },
  median: { value: own[1], low: null, high: null },
  sd: 1,
  skewness: null,
  box: [Math.min(...own), own[0], own[1], own[2], Math.max(...own)],
  low: Math.min(...own),
  high: Math.max(...own),
  far: [] as number[],
  edges: [0, 10, 20, 30],
  counts,
  at: [0, 15, 30],
  density: [0, 0.05, 0],
})

function figure(
  change: (held: NonNullable<FigureDocument['distribution']>) => void = () => undefined,
  far: number[] = [],
): RenderedFigure {
  const document = blankDocument('t', 'v', 'v')
  document.kind = 'distribution'
  document.distribution = blankDistribution('v', 'g')
  change(document.distribution)
  const marks: Marks = {
    ...NO_MARKS,
    row: Uint32Array.of(40, 41, 42, 43, 44, 45),
    x: Float64Array.from(VALUES),
    y: Float64Array.from(VALUES),
    group: Float64Array.from(GROUPS),
    aside: new Uint8Array(6),
  }
  const axis = axisAnswer('Value', 5, 25)
  const answer: Answer = {
    ...blankAnswer(axis, axis, 6),
    distribution: {
      by: words('Group'),
      groups: [
        { ...spread('first', 0, [5, 15, 25], [1, 1, 1]), far },
        spread('second', 1, [5, 6, 7], [3, 0, 0]),
      ],
      bin_width: 10,
      bin_start: 0,
      bandwidth: 3,
      sentences: [],
      compared: [],
      level: 0.95,
    } as unknown as NonNullable<Answer['distribution']>,
  }
  return { document, answer, marks }
}

describe('a distribution', () => {
  it('puts every mark at its value, in the lane of its own group', () => {
    const made = layoutDistribution(figure(), measure)
    const middle = made.plot.x + made.plot.width / 2
    for (let k = 0; k < made.source.length; k++) {
      const i = made.source[k]
      expect(made.y.fromPage(made.marks.y[k])).toBeCloseTo(VALUES[i], 3)
      // The first group of the answer stands on the left.
      expect(made.marks.x[k] < middle).toBe(GROUPS[i] === 0)
    }
    expect(made.source).toHaveLength(6)
  })

  it('lies down: values run across, and the first group stands on top', () => {
    const made = layoutDistribution(
      figure((held) => (held.lying = true)),
      measure,
    )
    const middle = made.plot.y + made.plot.height / 2
    made.source.forEach((i, k) => {
      expect(made.x.fromPage(made.marks.x[k])).toBeCloseTo(VALUES[i], 3)
      expect(made.marks.y[k] < middle).toBe(GROUPS[i] === 0)
    })
  })

  it('draws a bar as high as its rows are many, in all lanes alike', () => {
    const made = layoutDistribution(
      figure((held) =>
        Object.assign(held, {
          histogram: true,
          lying: true,
          box: false,
          middle: 'none',
          points: 'none',
        }),
      ),
      measure,
    )
    const bars = made.scene.items.filter(
      (item): item is PathItem =>
        item.kind === 'path' && item.part === 'distribution' && item.closed,
    )
    const heights = bars.map(({ points }) => {
      const ys = [...points].filter((_, i) => i % 2)
      return Math.max(...ys) - Math.min(...ys)
    })
    expect(bars).toHaveLength(4)
    expect(heights.slice(0, 3).every((height) => Math.abs(height - heights[0]) < 1e-6)).toBe(true)
    expect(heights[3] / heights[0]).toBeCloseTo(3)
    const shares = layoutDistribution(
      figure((held) => Object.assign(held, { histogram: true, lying: true, measure: 'shares' })),
      measure,
    )
    expect(shares.scene.items.length).toBeGreaterThan(bars.length)
  })

  it('shows only what lies far out beside a box without points', () => {
    const made = layoutDistribution(
      figure((held) => (held.points = 'none'), [43]),
      measure,
    )
    expect([...made.source].map((i) => 40 + i)).toEqual([43])
  })

  it('puts the mean beside its box, and says what its sign stands for', () => {
    const made = layoutDistribution(
      figure((held) => Object.assign(held, { box: true, points: 'none', middle: 'mean' })),
      measure,
    )
    const of = (items: PathItem[]) => items.map(({ points }) => [...points])
    const closed = made.scene.items.filter(
      (item): item is PathItem =>
        item.kind === 'path' && item.part === 'distribution' && item.closed,
    )
    const boxes = of(
      closed.filter(
        ({ stroke, points }) => stroke && points.length === 8 && points[1] === points[3],
      ),
    )
    const diamonds = of(
      closed.filter(({ points }) => points.length === 8 && points[1] === points[5]),
    )
    // One for each group, and one among the words.
    expect(diamonds).toHaveLength(3)
    for (const diamond of diamonds.slice(0, 2))
      for (const box of boxes) {
        const xs = box.filter((_, i) => i % 2 === 0)
        const isWithin = diamond[2] > Math.min(...xs) && diamond[2] < Math.max(...xs)
        expect(isWithin).toBe(false)
      }
    const words = made.scene.items.flatMap((item) =>
      item.kind === 'text' ? [item.runs.map(({ text }) => text).join('')] : [],
    )
    expect(words.some((one) => /^mean, 95.% interval$/.test(one))).toBe(true)
  })

  it('keeps marks in their lanes, scattered or stacked or in the shape of their density', () => {
    for (const points of ['jittered', 'dots', 'shaped'] as const) {
      const made = layoutDistribution(
        figure((held) => (held.points = points)),
        measure,
      )
      const middle = made.plot.x + made.plot.width / 2
      made.source.forEach((i, k) => {
        expect(made.marks.x[k] < middle, points).toBe(GROUPS[i] === 0)
        expect(made.marks.x[k]).toBeGreaterThan(made.plot.x)
        expect(made.marks.x[k]).toBeLessThan(made.plot.x + made.plot.width)
      })
    }
  })
})
