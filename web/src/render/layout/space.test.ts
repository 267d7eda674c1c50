/** A box laid out: what stands where, held against the camera and against counting. */
import { describe, expect, it } from 'vitest'
import { blankDocument, blankPlane, blankSpace } from '@/figure-model/blank'
import type { Answer, FigureDocument, Marks } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { meets } from '@/render/geometry/boxes'
import type { Box, MarksItem, SegmentsItem, TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS } from '@/render/testing'
import { widthOf } from '@/render/text/text'
import { layoutSpace } from './space'

const count = 60
const values = (of: (i: number) => number): Float64Array =>
  Float64Array.from({ length: count }, (_, i) => of(i))

function figure(change: (document: FigureDocument) => void = () => undefined): RenderedFigure {
  const document = blankDocument('t', 'a', 'c')
  document.kind = '3-D scatterplot'
  document.space = { ...blankSpace('b'), plane: null }
  change(document)
  const marks: Marks = {
    ...NO_MARKS,
    row: Uint32Array.from({ length: count }, (_, i) => 1000 + 7 * i),
    x: values((i) => i % 10),
    depth: values((i) => Math.floor(i / 10)),
    y: values((i) => 100 + (i % 10) * 5 + Math.floor(i / 10)),
    aside: new Uint8Array(count),
  }
  const answer: Answer = {
    ...blankAnswer(axisAnswer('Across', 0, 9), axisAnswer('Up', 100, 150), count),
    space: { depth: axisAnswer('Depth', 0, 5), planes: [] },
  }
  return { document, answer, marks }
}

const marksOf = (made: ReturnType<typeof layoutSpace>): MarksItem[] =>
  made.scene.items.filter((item): item is MarksItem => item.kind === 'marks')

function textBoxes(made: ReturnType<typeof layoutSpace>): { text: string; box: Box }[] {
  return made.scene.items
    .filter((item): item is TextItem => item.kind === 'text')
    .map((item) => {
      const width = widthOf(item.runs, item, measure)
      const left = item.anchor === 'start' ? 0 : item.anchor === 'end' ? width : width / 2
      return {
        text: item.runs.map(({ text }) => text).join(''),
        box: { x: item.x - left, y: item.y - item.size * 0.75, width, height: item.size * 0.8 },
      }
    })
}

describe('a 3-D scatterplot', () => {
  it('draws every mark once, the furthest first, paler and smaller', () => {
    const made = layoutSpace(figure(), measure)
    const [item] = marksOf(made)
    expect([...made.source].sort((a, b) => a - b)).toEqual(
      Array.from({ length: count }, (_, i) => i),
    )
    const sizes = [...item.look].map((look) => item.looks[look].size)
    expect(sizes[0]).toBeLessThan(sizes[count - 1])
    for (let i = 1; i < count; i++) expect(sizes[i]).toBeGreaterThanOrEqual(sizes[i - 1] - 1e-9)
    const light = ([red, green, blue]: readonly number[]): number => red + green + blue
    expect(light(item.looks[item.look[0]].colour)).toBeGreaterThan(
      light(item.looks[item.look[count - 1]].colour),
    )
  })

  it('shows a row at its own place, whatever its number', () => {
    const made = layoutSpace(figure(), measure)
    // The first mark of the answer, and the last: found by their rows.
    const first = made.rowPlace(1000)!
    const drawn = made.source.indexOf(0)
    expect(first).toEqual([made.marks.x[drawn], made.marks.y[drawn]])
    expect(made.rowPlace(1)).toBeNull()
  })

  it('keeps its words apart from each other and on the page, however it is turned', () => {
    for (const around of [-170, -120, -90, -60, -35, 0, 20, 45, 90, 140])
      for (const above of [-60, -20, 0, 10, 22, 45, 80]) {
        const made = layoutSpace(
          figure((document) => (document.space!.turn = { around, above })),
          measure,
        )
        const words = textBoxes(made)
        for (const { text, box } of words) {
          expect(box.x, `${text} at ${around}, ${above}`).toBeGreaterThan(-1)
          expect(box.x + box.width, text).toBeLessThan(721)
        }
        const doubled = words.flatMap((one, i) =>
          words
            .slice(i + 1)
            .flatMap((other) => (meets(one.box, other.box) ? [[one.text, other.text]] : [])),
        )
        expect(doubled, `${around}, ${above}`).toEqual([])
      }
  })

  it('leaves marks out that lie beyond an end that was typed', () => {
    const made = layoutSpace(
      figure((document) => (document.space!.axis.high = 3)),
      measure,
    )
    // Depths 0 to 3 of ten marks each.
    expect(made.source).toHaveLength(40)
    expect(made.off).toBe(20)
  })

  it('draws the plane between the marks behind it and those before it', () => {
    const one = figure((document) => (document.space!.plane = blankPlane(null)))
    one.answer.space!.planes = [
      {
        surface: { middle: [0, 0], terms: [125, 0, 0], across: [0, 9], depth: [0, 5] },
        group: null,
        group_code: null,
        readings: [],
      } as unknown as NonNullable<Answer['space']>['planes'][number],
    ]
    const { items } = layoutSpace(one, measure).scene
    const [behind, before] = items.filter((item): item is MarksItem => item.kind === 'marks')
    // Seen from above, what lies below the level of 125 is behind: counted from the values.
    const below = [...one.marks.y].filter((y) => y < 125).length
    expect(behind.x).toHaveLength(below)
    expect(before.x).toHaveLength(count - below)
    const at = (kind: string): number =>
      items.findIndex(
        (item) =>
          item.kind === kind && 'part' in item && item.part === 'space' && kind === 'segments',
      )
    expect(items.indexOf(behind)).toBeLessThan(at('segments'))
    expect(at('segments')).toBeLessThan(items.indexOf(before))
  })

  it('lets a line fall to the floor from every mark', () => {
    const made = layoutSpace(
      figure((document) => {
        document.space!.drops = 'all'
        document.space!.turn = { around: 0, above: 0 }
        document.space!.perspective = 0
      }),
      measure,
    )
    const lines = made.scene.items.find((item): item is SegmentsItem => item.kind === 'segments')!
    expect(lines.points).toHaveLength(4 * count)
    const feet = new Set([...lines.points].filter((_, i) => i % 4 === 3).map((y) => y.toFixed(6)))
    expect(feet.size).toBe(1)
  })
})
