/** How one looks at each kind: what a hand changes of the view, and what of it is kept. */
import { describe, expect, it } from 'vitest'
import { blankDistribution, blankDocument, blankSpace } from '@/figure-model/blank'
import type { Answer, Marks } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { axisAnswer, blankAnswer, measure, NO_MARKS } from '@/render/testing'
import { drawnKind } from './renderers'
import { valueAxisController } from '@/kinds/distribution/view-controller'
import { panZoomController } from '@/kinds/scatterplot/view-controller'
import { orbitController } from '@/kinds/space/view-controller'
import { CORNERS, VIEWS } from '@/kinds/space/views'

const values = Float64Array.of(1, 2, 3, 4)
const marks: Marks = {
  ...NO_MARKS,
  row: Uint32Array.of(0, 1, 2, 3),
  x: values,
  y: values,
  depth: values,
  group: new Float64Array(4),
  aside: new Uint8Array(4),
}
const axis = axisAnswer('V', 1, 4)

function box(): RenderedFigure {
  const document = blankDocument('t', 'a', 'c')
  document.kind = '3-D scatterplot'
  document.space = blankSpace('b')
  const answer: Answer = { ...blankAnswer(axis, axis, 4), space: { depth: axis, planes: [] } }
  return { document, answer, marks }
}

function lanes(lying: boolean): RenderedFigure {
  const document = blankDocument('t', 'v', 'v')
  document.kind = 'distribution'
  document.distribution = { ...blankDistribution('v', null), lying }
  const answer = {
    ...blankAnswer(axis, axis, 4),
    distribution: {
      by: null,
      groups: [],
      bin_width: 1,
      bin_start: 0,
      bandwidth: 1,
      sentences: [],
      compared: [],
      level: 0.95,
    },
  } as Answer
  return { document, answer, marks }
}

describe('looking at a box', () => {
  it('follows the hand: to the right turns it to the right, down shows it from above', () => {
    const figure = box()
    const home = orbitController.home(figure)
    const layout = orbitController.layout(figure, measure, home, true)
    const turned = orbitController.pan(home, layout, layout.plot.width / 10, layout.plot.width / 20)
    expect(turned.around).toBeCloseTo(home.around - 20)
    expect(turned.above).toBeCloseTo(home.above + 10)
    // A drag there and back is no drag.
    const back = orbitController.pan(
      turned,
      layout,
      -layout.plot.width / 10,
      -layout.plot.width / 20,
    )
    expect(back).toEqual(home)
  })

  it('comes closer by what the wheel says, and stops where nothing would be seen', () => {
    const figure = box()
    const home = orbitController.home(figure)
    const layout = orbitController.layout(figure, measure, home, false)
    let seen = home
    for (let i = 0; i < 60; i++) seen = orbitController.zoom(seen, layout, [0, 0], 0.8)!
    expect(seen.closeness).toBe(8)
    for (let i = 0; i < 90; i++) seen = orbitController.zoom(seen, layout, [0, 0], 1.25)!
    expect(seen.closeness).toBeCloseTo(0.3)
  })

  it('is kept in the document, so that it is handed on as it is seen', () => {
    const figure = box()
    orbitController.kept!(figure.document, { around: 12, above: -3, closeness: 2 })
    expect(orbitController.home(figure)).toEqual({ around: 12, above: -3, closeness: 2 })
    // What the document says then is what is seen: by undo, too.
    expect(
      orbitController.follows[0].follow({ around: 1, above: 1, closeness: 1 }, figure),
    ).toBeNull()
  })

  it('is seen by name from the front, the side, the top and four corners', () => {
    expect(VIEWS.map(({ label }) => label)).toEqual([
      'From the corner',
      'From the front',
      'From the side',
      'From the top',
    ])
    const around = CORNERS.map(({ turn }) => turn.around)
    expect(around).toEqual([-35, 55, 145, -125])
  })
})

describe('looking at a distribution', () => {
  it('moves along its values, whichever way they run', () => {
    for (const lying of [false, true]) {
      const figure = lanes(lying)
      const home = valueAxisController.home(figure)
      const layout = valueAxisController.layout(figure, measure, home, false)
      const { width, height } = layout.plot
      const span = home[1] - home[0]
      // To the right, or up the page: towards smaller values on the left, or below.
      const moved = lying
        ? valueAxisController.pan(home, layout, width / 2, 0)
        : valueAxisController.pan(home, layout, 0, height / 2)
      expect(Math.abs(moved[0] - home[0])).toBeCloseTo(span / 2)
      expect(moved[1] - moved[0]).toBeCloseTo(span)
      // Across the lanes there is nowhere to go.
      const across = lying
        ? valueAxisController.pan(home, layout, 0, height / 2)
        : valueAxisController.pan(home, layout, width / 2, 0)
      expect(across[0]).toBeCloseTo(home[0])
    }
  })

  it('keeps the value under the pointer where it is while it comes closer', () => {
    const figure = lanes(false)
    const home = valueAxisController.home(figure)
    const layout = valueAxisController.layout(figure, measure, home, false)
    const at: [number, number] = [layout.plot.x + 50, layout.plot.y + 100]
    const value = layout.y.fromPage(at[1])
    const next = valueAxisController.zoom(home, layout, at, 0.5)!
    const closer = valueAxisController.layout(figure, measure, next, false)
    expect(closer.y.fromPage(at[1])).toBeCloseTo(value)
    expect(next[1] - next[0]).toBeCloseTo((home[1] - home[0]) / 2)
  })
})

describe('looking at a pair', () => {
  it('follows ends that are typed, on their own axis alone', () => {
    const document = blankDocument('t', 'a', 'b')
    const figure: RenderedFigure = { document, answer: blankAnswer(axis, axis, 4), marks }
    const view = { x: [2, 3], y: [2, 3] } as const
    document.axes.x = { ...document.axes.x, low: 0, high: 10 }
    const followed = panZoomController.follows[0].follow(
      { x: [...view.x], y: [...view.y] },
      figure,
    )!
    expect(followed.x).toEqual([0, 10])
    expect(followed.y).toEqual([2, 3])
    expect(panZoomController.kept).toBeUndefined()
  })

  it('is there for every kind but the matrix, whose cells are opened', () => {
    for (const kind of ['scatterplot', '3-D scatterplot', 'distribution'] as const)
      expect(drawnKind({ kind }).looking).not.toBeNull()
    expect(drawnKind({ kind: 'scatterplot matrix' }).looking).toBeNull()
  })
})
