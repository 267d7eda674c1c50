import { describe, expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import type { Answer, TrendAnswer } from '@/api/types'
import type { Box, PathItem, TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure } from '@/render/testing'
import { lineLabels, lineLabelsRoom, tellsColours } from './line-labels'
import type { DrawnTrend } from './trends'

const DOCUMENT = blankDocument('t', 'x', 'y')
const PLOT: Box = { x: 50, y: 20, width: 400, height: 300 }

const line = (group: string | null, end: number, code: number | null = null): DrawnTrend => ({
  trend: {
    trend: 0,
    group_code: code,
    report: { group },
    curve: { x: [], y: [], bands: [] },
  } as unknown as TrendAnswer,
  colour: [0, 0, 0],
  points: Float64Array.of(60, 100, 440, end),
  runs: [],
})

const answerOf = (drawn: DrawnTrend[]): Answer => ({
  ...blankAnswer(axisAnswer('X', 0, 1), axisAnswer('Y', 0, 1), 9),
  trends: drawn.map(({ trend }) => trend),
})

const namesOf = (drawn: DrawnTrend[]) => {
  const { items, left } = lineLabels(DOCUMENT, answerOf(drawn), drawn, PLOT)
  return {
    left,
    leaders: items.filter((item): item is PathItem => item.kind === 'path'),
    names: items
      .filter((item): item is TextItem => item.kind === 'text')
      .map(({ runs, x, y }) => ({ name: runs[0].text, x, y })),
  }
}

describe('names at the ends of lines', () => {
  it('are not wanted where colour tells the lines apart, or there is one for all', () => {
    for (const drawn of [[line('a', 90, 0), line('b', 200, 1)], [line(null, 90)]]) {
      expect(lineLabelsRoom(DOCUMENT, answerOf(drawn), measure)).toBe(0)
      expect(namesOf(drawn).names).toEqual([])
    }
  })

  it('are wanted where there are more lines than colours', () => {
    const drawn = Array.from({ length: 30 }, (_, i) => line(`group ${i}`, 40 + i * 9, i))
    expect(namesOf(drawn).names.length).toBeGreaterThan(10)
  })

  it('stand beside the plot, in the order of the lines, none on another', () => {
    const drawn = [120, 121, 122, 300, 24, 23].map((end, i) => line(`line ${i}`, end))
    const { names, left } = namesOf(drawn)
    expect(left).toBe(0)
    expect(names.map(({ name }) => name)).toEqual([5, 4, 0, 1, 2, 3].map((i) => `line ${i}`))
    names.forEach(({ x, y }, i) => {
      expect(x).toBeGreaterThan(PLOT.x + PLOT.width)
      expect(y).toBeGreaterThan(PLOT.y)
      expect(y).toBeLessThan(PLOT.y + PLOT.height + 6)
      if (i) expect(y - names[i - 1].y).toBeGreaterThanOrEqual(12 * 1.15 - 1e-6)
    })
    expect(lineLabelsRoom(DOCUMENT, answerOf(drawn), measure)).toBeCloseTo(6 + 6 * 6)
  })

  it('are counted where the plot is too low for all of them', () => {
    const drawn = Array.from({ length: 40 }, (_, i) => line(`line ${i}`, 25 + i * 7))
    const { names, left } = namesOf(drawn)
    expect(names.length + left).toBe(40)
    expect(left).toBeGreaterThan(10)
  })

  it('stand for a legend where they name every colour', () => {
    const drawn = Array.from({ length: 30 }, (_, i) => line(`group ${i}`, 40 + i * 9, i))
    const colour = (count: number, missing = 0) =>
      ({
        scale: 'category',
        shown: Array(count).fill(true),
        missing,
      }) as unknown as Answer['colour']
    expect(tellsColours({ ...answerOf(drawn), colour: colour(30) })).toBe(true)
    // One category has no line, or a mark has no category.
    expect(tellsColours({ ...answerOf(drawn), colour: colour(31) })).toBe(false)
    expect(tellsColours({ ...answerOf(drawn), colour: colour(30, 2) })).toBe(false)
    expect(tellsColours({ ...answerOf(drawn.slice(0, 3)), colour: colour(3) })).toBe(false)
  })

  it('are what the legend of this figure calls their categories', () => {
    const drawn = Array.from({ length: 30 }, (_, i) => line(`group ${i}`, 40 + i * 9, i))
    const categories = drawn.map((_, i) => `group ${i}`)
    const colour = { categories, values: categories } as unknown as Answer['colour']
    const renamed = { ...DOCUMENT, legend: { ...DOCUMENT.legend, renamed: { 'group 3': 'moor' } } }
    const { items } = lineLabels(renamed, { ...answerOf(drawn), colour }, drawn, PLOT)
    const read = items.flatMap((item) => (item.kind === 'text' ? [item.runs[0].text] : []))
    expect(read).toContain('moor')
    expect(read).not.toContain('group 3')
  })

  it('are left out for a line that is not in view', () => {
    const out = { ...line('out', 90), points: Float64Array.of(60, -50, 440, -90) }
    expect(namesOf([out, line('in', 90)]).names.map(({ name }) => name)).toEqual(['in'])
  })
})
