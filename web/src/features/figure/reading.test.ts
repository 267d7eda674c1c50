import { describe, expect, it } from 'vitest'
import { blankDocument, blankTrend } from '@/figure-model/blank'
import type { Answer } from '@/api/types'
import { layoutFigure, type Layout } from '@/render/layout/figure'
import type { RenderedFigure } from '@/render/figure'
import { axisAnswer, blankAnswer, measure, NO_MARKS } from '@/render/testing'
import { keepReading, readingAt, readPlace } from './reading'

const TREND = {
  trend: 0,
  family_label: 'straight line',
  group_code: null,
  group_value: null,
  report: { problem: null, group: 'Corrie', readings: [], solutions: [] },
  curve: { x: [0, 5, 10], y: [0, 50, 100], bands: [] },
  carried: [],
  with_all: null,
} as unknown as Answer['trends'][number]

function made(readOff: object[] = []): { figure: RenderedFigure; layout: Layout } {
  const document = {
    ...blankDocument('t', 'dose', 'shed'),
    trends: [{ ...blankTrend('straight', null), read_off: readOff as never }],
  }
  const report = {
    ...TREND.report,
    readings: readOff.length
      ? [{ x: 4, y: 40, x_place: 4, y_place: 40, name: null, mean_low: null, mean_high: null }]
      : [],
  }
  const figure: RenderedFigure = {
    document,
    answer: {
      ...blankAnswer(axisAnswer('Dose', 0, 10), axisAnswer('Shed', 0, 100), 2),
      trends: [{ ...TREND, report } as Answer['trends'][number]],
    },
    marks: {
      ...NO_MARKS,
      row: Uint32Array.of(0, 1),
      x: Float64Array.of(0, 10),
      y: Float64Array.of(100, 0),
      aside: Uint8Array.of(0, 0),
    },
  }
  return { figure, layout: layoutFigure(figure, measure) }
}

describe('reading off by hand', () => {
  it('takes hold of a line, and of nothing beside it', () => {
    const { figure, layout } = made()
    const [x, y] = [layout.x.toPage(5), layout.y.toPage(50)]
    expect(readingAt(layout, figure.document, x, y)).toMatchObject({ place: null, what: 'at' })
    expect(readingAt(layout, figure.document, x, y - 40)).toBeNull()
  })

  it('follows the hand along the line in round steps', () => {
    const { figure, layout } = made()
    const held = readingAt(layout, figure.document, layout.x.toPage(5), layout.y.toPage(50))!
    const there = readPlace(held, layout, figure, layout.x.toPage(3.21234), 0)!
    expect(there.value).toBeCloseTo(3.21, 2)
    expect(there.y).toBeCloseTo(layout.y.toPage(10 * there.value), 1)
    expect(there.text).toContain('Shed 32.1')
    expect(readPlace(held, layout, figure, layout.x.toPage(25), 0)).toBeNull()
  })

  it('is kept for its group where it is let go', () => {
    const { figure, layout } = made()
    const held = readingAt(layout, figure.document, layout.x.toPage(5), layout.y.toPage(50))!
    keepReading(figure.document, held, 3.2)
    expect(figure.document.trends[0].read_off).toEqual([
      { at: 3.2, level: null, name: null, group: 'Corrie' },
    ])
  })

  it('moves a number that is there already', () => {
    const { figure, layout } = made([{ at: 4, level: null, name: null, group: null }])
    const held = readingAt(layout, figure.document, layout.x.toPage(4), layout.y.toPage(40))!
    expect(held.place).toBe(0)
    keepReading(figure.document, held, 6)
    expect(figure.document.trends[0].read_off[0].at).toBe(6)
  })
})
