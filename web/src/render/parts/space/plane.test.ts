/** Planes in the box: where their wires run, what they are cut at, whose mark is whose. */
import { describe, expect, it } from 'vitest'
import { blankColour, blankDocument, blankPlane, blankSpace } from '@/figure-model/blank'
import type { Answer, FigureDocument, Marks } from '@/api/types'
import { cameraOf, onPage, TALL } from '@/render/geometry/camera'
import { makeScale, transformOf, type ScaleName } from '@/render/geometry/scale'
import type { PathItem, SegmentsItem, TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'
import {
  heightAt,
  isFlat,
  placesReadOff,
  planeItems,
  planeOfMark,
  residualItems,
  type PlaneReport,
  type Scales3,
} from './plane'

const room = { x: 0, y: 0, width: 600, height: 500 }
const camera = cameraOf({ around: 0, above: 0, closeness: 1 }, 0, room)
const scales = (up: ScaleName = 'linear'): Scales3 => ({
  across: makeScale(transformOf('linear'), [0, 10], [-0.5, 0.5]),
  up: makeScale(transformOf(up), up === 'log' ? [1, 100] : [0, 100], [-TALL / 2, TALL / 2]),
  depth: makeScale(transformOf('linear'), [0, 4], [-0.5, 0.5]),
})

const report = (terms: number[], more: Partial<PlaneReport> = {}): PlaneReport => ({
  group: null,
  group_code: null,
  family_label: 'plane',
  degree: 1,
  equation: 'up = 2 + 3·across',
  equation_note: '',
  n: 9,
  dropped: { missing: 0 },
  level: 0.95,
  coefficients: [
    {
      name: 'a',
      label: 'Up where both are 0',
      value: 2,
      se: 0.1,
      low: 1.8,
      high: 2.2,
      was_given: false,
      p_value: null,
    },
  ],
  degrees_of_freedom: 6,
  r_squared: 0.5,
  adjusted_r_squared: 0.4,
  residual_sd: 1,
  f: 12,
  df_fit: 2,
  p_value: 0.008,
  condition: 1,
  readings: [],
  sentence: 'It rises.',
  assumptions: [],
  surface: { middle: [5, 2], terms, across: [0, 10], depth: [0, 4] },
  problem: null,
  ...more,
})

function figure(planes: PlaneReport[]): { document: FigureDocument; answer: Answer } {
  const document = blankDocument('t', 'a', 'c')
  document.kind = '3-D scatterplot'
  document.space = { ...blankSpace('b'), plane: { ...blankPlane(null), residuals: true } }
  return {
    document,
    answer: {
      ...blankAnswer(axisAnswer('Across', 0, 10), axisAnswer('Up', 0, 100, 'mL'), 3),
      space: { depth: axisAnswer('Depth', 0, 4), planes },
    },
  }
}

const wires = (items: ReturnType<typeof planeItems>): SegmentsItem =>
  items.find((item): item is SegmentsItem => item.kind === 'segments')!

describe('a plane in the box', () => {
  it('is evaluated about the middle of its data', () => {
    const { surface } = report([50, 2, -3, 0.5, 0.25, -1])
    expect(heightAt(surface!, 7, 4)).toBeCloseTo(50 + 2 * 2 - 3 * 2 + 0.5 * 4 + 0.25 * 4 - 4)
  })

  it('lies where its equation says, seen from the front as a line', () => {
    const { document, answer } = figure([report([50, 4, 0])])
    const { points } = wires(planeItems(document, answer, scales(), camera))
    // At the left the height is 30, at the right 70 of 100.
    const ys = [...points].filter((_, i) => i % 2)
    const [, top] = onPage(camera, [0, 0.2 * TALL, 0])
    const [, foot] = onPage(camera, [0, -0.2 * TALL, 0])
    expect(Math.min(...ys)).toBeCloseTo(top)
    expect(Math.max(...ys)).toBeCloseTo(foot)
  })

  it('is cut at the floor and at the ceiling', () => {
    const { document, answer } = figure([report([50, 40, 0])])
    const items = planeItems(document, answer, scales(), camera)
    const [, ceiling] = onPage(camera, [0, TALL / 2, 0])
    const [, floor] = onPage(camera, [0, -TALL / 2, 0])
    for (const item of items) {
      const { points } = item as SegmentsItem | PathItem
      const ys = [...points].filter((_, i) => i % 2)
      expect(Math.min(...ys)).toBeGreaterThan(ceiling - 1e-6)
      expect(Math.max(...ys)).toBeLessThan(floor + 1e-6)
    }
  })

  it('that lies outside of the box altogether is not drawn', () => {
    const { document, answer } = figure([report([5000, 0, 0])])
    expect(wires(planeItems(document, answer, scales(), camera)).points).toHaveLength(0)
    const none = figure([report([50, 0, 0], { surface: null, problem: 'no plane' })])
    expect(planeItems(none.document, none.answer, scales(), camera)).toEqual([])
  })

  it('is bent by an axis of logarithms, and drawn in fields then', () => {
    expect(isFlat(1, scales())).toBe(true)
    expect(isFlat(2, scales())).toBe(false)
    expect(isFlat(1, scales('log'))).toBe(false)
    const { document, answer } = figure([report([50, 4, 0])])
    const fields = planeItems(document, answer, scales('log'), camera).filter(
      ({ kind }) => kind === 'path',
    )
    expect(fields).toHaveLength(64)
  })

  it('has a line from every mark that was fitted, in its own colour', () => {
    const { document, answer } = figure([report([50, 0, 0])])
    const marks: Marks = {
      ...NO_MARKS,
      row: Uint32Array.of(1, 2, 3),
      x: Float64Array.of(2, 5, 8),
      y: Float64Array.of(20, 80, 30),
      depth: Float64Array.of(1, 2, 3),
      aside: Uint8Array.of(0, 0, 1),
    }
    const [lines] = residualItems(document, answer, marks, scales(), camera) as SegmentsItem[]
    // The third is set aside.
    expect(lines.points).toHaveLength(8)
    expect(lines.points[1]).toBeCloseTo(onPage(camera, [0, -0.3 * TALL, 0])[1])
    expect(lines.points[3]).toBeCloseTo(onPage(camera, [0, 0, 0])[1])
  })

  it('belongs to the marks of its colour, and to none where colours are of something else', () => {
    const planes = [
      report([1, 0, 0], { group: 'p', group_code: 0 }),
      report([2, 0, 0], { group: 'q', group_code: 1 }),
    ]
    const { answer } = figure(planes)
    const colour = { ...blankColour('g'), variable: words('G'), scale: 'category' }
    const marks = { ...NO_MARKS, colour: Uint16Array.of(1, 0, 65_535) } as unknown as Marks
    const by = planeOfMark({ ...answer, colour } as unknown as Answer, marks)
    expect([0, 1, 2].map((i) => by(i)?.group ?? null)).toEqual(['q', 'p', null])
    expect(planeOfMark(answer, marks)(0)).toBeNull()
  })

  it('shows what is read off it beside its place', () => {
    const reading: PlaneReport['readings'][number] = {
      across: 5,
      depth: 2,
      up: 50,
      mean_low: 48,
      mean_high: 52,
      new_low: 40,
      new_high: 60,
      carried_on: false,
      name: 'usual',
      places: [5, 2, 50],
    }
    const beyond = { ...reading, places: [50, 2, 50] as [number, number, number] }
    const { document, answer } = figure([report([50, 0, 0], { readings: [reading, beyond] })])
    const items = placesReadOff(document, answer, scales(), camera, measure)
    const texts = items.filter((item): item is TextItem => item.kind === 'text')
    expect(texts.map(({ runs }) => runs.map(({ text }) => text).join(''))).toEqual([
      'usual: 50\u00a0mL',
    ])
  })
})
