import { describe, expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import type { RenderedFigure } from '@/render/figure'
import { axisAnswer, blankAnswer, NO_MARKS } from '@/render/testing'
import { inRoom } from './element-size'
import { summaryOf } from '@/kinds/summary'

const made = (): RenderedFigure => ({
  document: blankDocument('t', 'dose', 'shed'),
  answer: blankAnswer(axisAnswer('Dose', 0.5, 9, 'g'), axisAnswer('Shed', 0, 98.76543, '%'), 54),
  marks: {
    row: Uint32Array.of(),
    x: Float64Array.of(),
    y: Float64Array.of(),
    aside: Uint8Array.of(),
    ...NO_MARKS,
  },
})

describe('a figure in a room', () => {
  it('takes its shape where it is made for the screen, with its words at their size', () => {
    const page = inRoom(made(), { width: 900, height: 400 }).document.page
    expect([page.width, page.height]).toEqual([900, 400])
    expect(inRoom(made(), { width: 900, height: 400 }).document.type.scale).toBe(1)
  })

  it('is shown smaller where there is no room for axes, and larger on a large screen', () => {
    const small = inRoom(made(), { width: 120, height: 90 }).document.page
    expect([small.width, small.height]).toEqual([260, 190])
    const large = inRoom(made(), { width: 2000, height: 1000 }).document.page
    // Half as large again at twice the width.
    expect([large.width, large.height]).toEqual([1333, 667])
  })

  it('keeps its own page where it is made for another place, or there is no room yet', () => {
    const figure = made()
    expect(inRoom(figure, { width: 0, height: 0 })).toBe(figure)
    figure.document.page.venue = 'poster'
    expect(inRoom(figure, { width: 900, height: 400 })).toBe(figure)
  })
})

describe('what the data are, in words', () => {
  it('says marks, ends and names', () => {
    const figure = made()
    expect(summaryOf(figure)).toBe('54 marks. Dose from 0.5 to 9 g. Shed from 0 to 98.77 %.')
    figure.answer.colour = {
      variable: { ...figure.answer.x.variable, label: 'Coating' },
      scale: 'category',
      categories: ['wax', 'silica', 'film'],
      values: ['wax', 'silica', 'film'],
      turns: [0, 1, 2],
      colours: [null, null, null],
      shown: [true, false, true],
      low: null,
      high: null,
      missing: 0,
    }
    expect(summaryOf(figure)).toContain('Coating: wax and film.')
  })

  it('says nothing of an axis on which there is nothing', () => {
    const figure = made()
    figure.answer.x.low = figure.answer.x.high = null
    expect(summaryOf(figure)).not.toMatch(/Dose|null|NaN/)
  })
})
