import { describe, expect, it } from 'vitest'
import { blankDocument, blankNames } from '@/figure-model/blank'
import type { Answer, FigureDocument, Marks } from '@/api/types'
import { layoutFigure, type Layout } from '@/render/layout/figure'
import type { RenderedFigure } from '@/render/figure'
import { axisAnswer, blankAnswer, measure, NO_MARKS } from '@/render/testing'
import { boxOutline, dragAt } from './dragging'
import { wordsOf } from './editing'
import { moveView, zoomView } from '@/render/layout/view-ends'

const MARKS: Marks = {
  row: Uint32Array.of(0, 1),
  x: Float64Array.of(10, 20),
  y: Float64Array.of(10, 20),
  aside: Uint8Array.of(0, 0),
  ...NO_MARKS,
}

const ANSWER: Answer = {
  ...blankAnswer(axisAnswer('Humidity', 10, 20, '%'), axisAnswer('Yield', 10, 20, '%'), 2),
  names: { rows: [0], texts: ['A1'] },
}

function made(change: Partial<FigureDocument> = {}): { figure: RenderedFigure; layout: Layout } {
  const document = { ...blankDocument('t', 'humidity', 'yield'), ...change }
  const figure = { document, answer: ANSWER, marks: MARKS }
  return { figure, layout: layoutFigure(figure, measure) }
}

/** Drags from one place to another and returns what the document then says. */
function dragged(
  { figure, layout }: ReturnType<typeof made>,
  from: [number, number],
  to: [number, number],
): FigureDocument | null {
  const drag = dragAt(layout, figure.document, ...from)
  if (!drag) return null
  const draft = JSON.parse(JSON.stringify(figure.document)) as FigureDocument
  drag.edit(draft, ...to)
  return draft
}

describe('dragging', () => {
  it('moves a name and leaves its mark', () => {
    const on = made({ names: blankNames('station', 'all') })
    const [{ box }] = on.layout.names
    const [x, y] = on.layout.rowPlace(0)!
    const next = dragged(on, [box.x + 2, box.y + 2], [box.x + 52, box.y - 28])!
    const [dx, dy] = next.names!.moved['0']
    expect([dx, dy]).toEqual([box.x + 50 - x, box.y - 30 - y])
    expect(made(next).layout.names[0].box.x).toBeCloseTo(box.x + 50, 6)
  })

  it('moves a note on the page, or in the data', () => {
    const note = { text: 'here', anchor: 'page' as const, x: 0.5, y: 0.5, points_to: null }
    const next = dragged(made({ notes: [note] }), [362, 308], [434, 369])!
    expect(next.notes[0].x).toBeCloseTo(0.6, 6)
    expect(next.notes[0].y).toBeCloseTo(0.6, 6)
    const data = made({ notes: [{ ...note, anchor: 'data', x: 15, y: 15 }] })
    const [px, py] = [data.layout.x.toPage(15), data.layout.y.toPage(15)]
    const there = dragged(data, [px + 2, py + 2], [data.layout.x.toPage(16) + 2, py + 2])!
    expect(there.notes[0].x).toBeCloseTo(16, 6)
    expect(there.notes[0].y).toBeCloseTo(15, 6)
  })

  it('takes an axis by an end, with the other one held, or by its middle', () => {
    const on = made()
    const { x, plot } = on.layout
    const below = plot.y + plot.height + 12
    const at = (share: number): number => plot.x + share * plot.width
    const end = dragged(on, [at(0.9), below], [at(0.8), below])!
    expect(end.axes.x.low).toBeNull()
    const held = x.fromPage(at(0.9))
    const [low] = x.domain
    expect((held - low) / (end.axes.x.high! - low)).toBeCloseTo(0.8, 6)
    const both = dragged(on, [at(0.5), below], [at(0.6), below])!
    expect(both.axes.x.high! - both.axes.x.low!).toBeCloseTo(x.domain[1] - x.domain[0], 6)
    expect(both.axes.x.low!).toBeLessThan(low)
  })

  it('takes nothing where there is nothing to take', () => {
    const on = made()
    const { plot } = on.layout
    expect(dragged(on, [plot.x + plot.width / 2, plot.y + plot.height / 3], [0, 0])).toBeNull()
  })

  it('draws a box from corner to corner', () => {
    expect(boxOutline(1, 2, 5, 9)).toEqual([1, 2, 5, 2, 5, 9, 1, 9])
  })
})

describe('words edited where they stand', () => {
  it('are the title of an axis, and its own words again when they are typed', () => {
    const { figure, layout } = made()
    const edited = wordsOf('x-axis', figure, layout)!
    expect(edited.text).toBe('Humidity (%)')
    edited.edit(figure.document, 'Dampness')
    expect(figure.document.axes.x.title).toBe('Dampness')
    edited.edit(figure.document, 'Humidity (%)')
    expect(figure.document.axes.x.title).toBeNull()
  })

  it('go when they are emptied', () => {
    const note = { text: 'here', anchor: 'page' as const, x: 0.5, y: 0.5, points_to: null }
    const { figure, layout } = made({ title: 'Dew', notes: [note] })
    wordsOf('title', figure, layout)!.edit(figure.document, '  ')
    expect(figure.document.title).toBeNull()
    wordsOf('note-0', figure, layout)!.edit(figure.document, '')
    expect(figure.document.notes).toEqual([])
    expect(wordsOf('marks', figure, layout)).toBeNull()
  })
})

describe('what is in view', () => {
  it('is moved and zoomed in the steps of its scale', () => {
    const log = { ...blankDocument('t', 'h', 'y').axes.x, scale: 'log' as const }
    const on = made({ axes: { ...blankDocument('t', 'h', 'y').axes, x: log } })
    const view = { x: [1, 100] as const, y: [0, 10] as const }
    const right = moveView(view, on.layout, 0.5, 0.1)
    expect(right.x.map((v) => Math.round(v))).toEqual([10, 1000])
    expect(right.y).toEqual([1, 11])
    const closer = zoomView(view, on.layout, { x: 10, y: 5 }, 0.5)!
    expect(closer.x[0]).toBeCloseTo(Math.sqrt(10), 6)
    expect(closer.y).toEqual([2.5, 7.5])
  })
})
