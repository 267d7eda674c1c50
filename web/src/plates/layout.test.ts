import { describe, expect, it } from 'vitest'
import { blankColour, blankDocument, blankPlate, blankTrend } from '@/figure-model/blank'
import type { Answer, ColourAnswer, FigureDocument, PlateDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { moved } from '@/render/layout/moving'
import { columnsOf, layoutPlate, letterOf, rowsOf } from './layout'
import type { Panel } from './panel'
import { laid } from '@/render/marks/places'
import { contains, type Box, type Item, type MarksItem, type TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'

const VALLEYS: ColourAnswer = {
  variable: words('Valley'),
  scale: 'category',
  categories: ['Argill', 'Corrie'],
  values: ['Argill', 'Corrie'],
  turns: [0, 2],
  colours: [null, null],
  shown: [true, false],
  low: null,
  high: null,
  missing: 0,
}

function figure(
  ends: { x?: [number, number]; y?: [number, number] } = {},
  document: Partial<FigureDocument> = {},
  answer: Partial<Answer> = {},
): RenderedFigure {
  const x = ends.x ?? ([0, 10] as const)
  const y = ends.y ?? ([0, 100] as const)
  return {
    document: { ...blankDocument('t', 'dose', 'shed'), ...document },
    answer: {
      ...blankAnswer(axisAnswer('Dose', ...x), axisAnswer('Shed', ...y), 2),
      ...answer,
    },
    marks: {
      row: Uint32Array.of(0, 1),
      x: Float64Array.from(x),
      y: Float64Array.from(y),
      aside: Uint8Array.of(0, 0),
      ...NO_MARKS,
    },
  }
}

const panel = (shown: RenderedFigure | null, heading = ''): Panel => ({
  figure: shown,
  heading,
  problem: 'It is gone.',
})

const cellOf = (id = 'f') => ({ figure: id, varied: null, heading: null })

function plate(count: number, change: Partial<PlateDocument> = {}): PlateDocument {
  const cells = Array.from({ length: count }, () => cellOf())
  return { ...blankPlate(cells, false), ...change }
}

const textsIn = (items: readonly Item[], part: string): string[] =>
  items
    .filter((item): item is TextItem => item.kind === 'text' && item.part === part)
    .map(({ runs }) => runs.map(({ text }) => text).join(''))
    .filter(Boolean)

const marksIn = (items: readonly Item[]): MarksItem[] =>
  items.filter((item): item is MarksItem => item.kind === 'marks' && item.part === 'marks')

const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width - 0.01 &&
  b.x < a.x + a.width - 0.01 &&
  a.y < b.y + b.height - 0.01 &&
  b.y < a.y + a.height - 0.01

describe('marks in cells', () => {
  it('stand where their columns are laid, each cell inside its own plot', () => {
    const made = layoutPlate(plate(3), [panel(figure()), panel(figure()), panel(figure())], measure)
    const items = made.scene.items.filter(
      (item): item is MarksItem => item.kind === 'marks' && item.columns !== undefined,
    )
    expect(items).toHaveLength(3)
    const boxes = new Set(items.map(({ clip }) => `${clip.x} ${clip.y}`))
    expect(boxes.size).toBe(3)
    for (const { x, y, clip, columns } of items) {
      expect([...x]).toEqual([...laid(columns!.u, columns!.across)])
      expect([...y]).toEqual([...laid(columns!.v, columns!.up)])
      for (let i = 0; i < x.length; i++) expect(contains(clip, x[i], y[i])).toBe(true)
    }
  })
})

describe('the places of a plate', () => {
  it('are counted row by row, never more columns than figures', () => {
    expect([columnsOf(plate(2, { columns: 5 })), rowsOf(plate(2, { columns: 5 }))]).toEqual([2, 1])
    expect([columnsOf(plate(5, { columns: 2 })), rowsOf(plate(5, { columns: 2 }))]).toEqual([2, 3])
  })

  it('are lettered in small or capital letters, or not at all', () => {
    expect([0, 1, 11].map((i) => letterOf(i, 'a'))).toEqual(['a', 'b', 'l'])
    expect(letterOf(2, 'A')).toBe('C')
    expect(letterOf(2, 'none')).toBe('')
  })

  it('keep to the page and apart from one another, whatever their number', () => {
    for (let count = 1; count <= 12; count++) {
      const wanted = blankPlate(
        Array.from({ length: count }, () => cellOf()),
        false,
      )
      const { cells, scene } = layoutPlate(
        wanted,
        wanted.cells.map(() => panel(figure())),
        measure,
      )
      expect(cells).toHaveLength(count)
      cells.forEach((box, i) => {
        expect(box.x).toBeGreaterThanOrEqual(0)
        expect(box.x + box.width).toBeLessThanOrEqual(scene.width + 0.01)
        expect(box.y + box.height).toBeLessThanOrEqual(scene.height + 0.01)
        for (const other of cells.slice(i + 1)) expect(meet(box, other)).toBe(false)
      })
    }
  })

  it('have widths and heights in the proportion that was dragged', () => {
    const wanted = plate(4, { columns: 2, widths: [3, 1], heights: [1, 2] })
    const panels = wanted.cells.map(() => panel(figure()))
    const marks = marksIn(layoutPlate(wanted, panels, measure).scene.items)
    // What is left after the axes have their room is shared: plots are three to one.
    const span = ({ x }: MarksItem) => x[1] - x[0]
    const rise = ({ y }: MarksItem) => y[0] - y[1]
    expect(span(marks[0]) / span(marks[1])).toBeCloseTo(3, 5)
    expect(rise(marks[2]) / rise(marks[0])).toBeCloseTo(2, 5)
  })
})

describe('figures on a plate', () => {
  it('stand in line, however wide their labels are', () => {
    const wide = figure({ y: [0, 2_000_000] })
    const wanted = plate(4, { columns: 2 })
    const panels = [figure(), figure(), wide, figure()].map((shown) => panel(shown))
    const marks = marksIn(layoutPlate(wanted, panels, measure).scene.items)
    expect(marks[0].x[0]).toBeCloseTo(marks[2].x[0], 3)
    expect(marks[0].x[1]).toBeCloseTo(marks[2].x[1], 3)
    expect(marks[0].y[1]).toBeCloseTo(marks[1].y[1], 3)
  })

  it('have one frame for shared axes, however far the data of each reach', () => {
    const two = [panel(figure({ x: [0, 4] })), panel(figure({ x: [2, 10] }))]
    const lines = (shared: PlateDocument['shared']): number[] =>
      layoutPlate(plate(2, { shared }), two, measure)
        .scene.items.filter((item) => item.kind === 'path' && item.part === 'x-axis')
        .map((item) => (item.kind === 'path' ? item.points : []))
        .filter((points) => points.length === 4 && points[1] === points[3])
        .map((points) => Math.round(Math.abs(points[2] - points[0])))
        .filter((length) => length > 40)
    const [one, other] = lines('x')
    expect(lines('x')).toHaveLength(2)
    expect(one).toBe(other)
  })

  it('share ends and are labelled on the outer edge only', () => {
    const panels = [figure(), figure({ x: [5, 20], y: [50, 300] })].map((shown) => panel(shown))
    const own = layoutPlate(plate(2), panels, measure).scene.items
    expect(textsIn(own, 'y-axis').filter((text) => text === 'Shed')).toHaveLength(2)
    const items = layoutPlate(plate(2, { shared: 'both' }), panels, measure).scene.items
    expect(textsIn(items, 'y-axis').filter((text) => text === 'Shed')).toHaveLength(1)
    expect(textsIn(items, 'x-axis').filter((text) => text === 'Dose')).toHaveLength(2)
    const [a, b] = marksIn(items)
    // The same value stands at the same place of both: 100 up in a, 50 and 300 in b.
    const unit = (b.y[0] - b.y[1]) / 250
    expect(a.y[0] - a.y[1]).toBeCloseTo(100 * unit, 2)
    expect(b.y[0] + 50 * unit).toBeCloseTo(a.y[0], 2)
  })

  it('keep their own labels where they show something else', () => {
    const other = figure({}, {}, { y: axisAnswer('Yield', 0, 100) })
    const panels = [panel(figure()), panel(other)]
    const items = layoutPlate(plate(2, { shared: 'y' }), panels, measure).scene.items
    expect(textsIn(items, 'y-axis')).toEqual(expect.arrayContaining(['Shed', 'Yield']))
  })

  it('have one legend with what any of them shows', () => {
    const colour = blankColour('valley')
    const one = figure({}, { colour }, { colour: VALLEYS })
    // A shared page knows in each figure only the categories that are there.
    const two = figure(
      {},
      { colour },
      {
        colour: {
          ...VALLEYS,
          categories: ['Corrie'],
          values: ['Corrie'],
          turns: [2],
          colours: [null],
          shown: [true],
        },
      },
    )
    const panels = [panel(one), panel(two)]
    const items = layoutPlate(plate(2), panels, measure).scene.items
    expect(textsIn(items, 'legend')).toEqual(['Valley', 'Argill', 'Corrie'])
    const none = layoutPlate(plate(2, { legend: 'none' }), panels, measure).scene.items
    expect(textsIn(none, 'legend')).toEqual([])
    const each = layoutPlate(plate(2, { legend: 'each' }), panels, measure).scene.items
    expect(textsIn(each, 'legend').filter((text) => text === 'Valley')).toHaveLength(2)
  })

  it('have their letters and headings above them, and the plate its own words', () => {
    const wanted = plate(2, { title: 'Two valleys', caption: 'Left and right.' })
    const panels = [panel(figure(), 'Argill'), panel(figure(), 'Corrie')]
    const { scene, cells } = layoutPlate(wanted, panels, measure)
    expect(textsIn(scene.items, 'title')).toEqual(['a', 'Argill', 'b', 'Corrie', 'Two valleys'])
    expect(textsIn(scene.items, 'caption')).toEqual(['Left and right.'])
    const letter = scene.items.find(
      (item): item is TextItem => item.kind === 'text' && item.runs[0].text === 'a',
    )!
    expect(letter.weight).toBe(600)
    expect(letter.y).toBeLessThan(cells[0].y + 30)
  })

  it('are drawn with the ink and the words of the plate', () => {
    const shown = figure({}, { trends: [blankTrend('straight', null)], caption: 'Not here.' })
    const items = layoutPlate(plate(1, { ink: 0.5, text: 2 }), [panel(shown)], measure).scene.items
    expect(marksIn(items)[0].looks[0].size).toBeCloseTo(3)
    expect(textsIn(items, 'caption')).toEqual([])
    const title = items.find(
      (item): item is TextItem => item.kind === 'text' && item.runs[0]?.text === 'Dose',
    )!
    const plain = layoutPlate(plate(1, { text: 1 }), [panel(shown)], measure).scene.items.find(
      (item): item is TextItem => item.kind === 'text' && item.runs[0]?.text === 'Dose',
    )!
    expect(title.size / plain.size).toBeCloseTo(2)
  })

  it('say what is wrong in the place of a figure that is gone', () => {
    const made = layoutPlate(plate(2), [panel(figure()), panel(null)], measure)
    expect(textsIn(made.scene.items, 'ground')).toEqual(['It is gone.'])
    expect(made.cells).toHaveLength(2)
  })
})

it('items are moved with all that belongs to them', () => {
  const clip = { x: 0, y: 0, width: 5, height: 5 }
  const items: Item[] = [
    { kind: 'path', part: 'marks', points: Float64Array.of(1, 2, 3, 4), closed: false, clip },
    {
      kind: 'segments',
      part: 'marks',
      points: Float64Array.of(0, 0, 1, 1),
      stroke: [0, 0, 0],
      opacity: 1,
      width: 1,
    },
  ]
  const [path, segments] = moved(items, 10, 100)
  expect(path).toMatchObject({ clip: { x: 10, y: 100, width: 5, height: 5 } })
  expect([...(path as { points: Float64Array }).points]).toEqual([11, 102, 13, 104])
  expect([...(segments as { points: Float64Array }).points]).toEqual([10, 100, 11, 101])
  expect(items[0]).toMatchObject({ clip })
})

describe('a legend that all share', () => {
  const of = (name: string, heading: string): Panel => {
    const names = ['Argill', 'Corrie']
    const shown = names.map((one) => one === name)
    return panel(figure({}, {}, { colour: { ...VALLEYS, shown } }), heading)
  }

  it('is not there where every figure is of one category and says so', () => {
    const { scene } = layoutPlate(
      plate(2),
      [of('Argill', 'Argill'), of('Corrie', 'Corrie')],
      measure,
    )
    expect(textsIn(scene.items, 'legend')).toEqual([])
  })

  it('is there where a heading says something else', () => {
    const { scene } = layoutPlate(plate(2), [of('Argill', 'Argill'), of('Corrie', 'West')], measure)
    expect(textsIn(scene.items, 'legend')).toContain('Corrie')
  })
})
