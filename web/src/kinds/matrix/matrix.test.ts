import { describe, expect, it } from 'vitest'
import { blankDocument, blankMatrix } from '@/figure-model/blank'
import type { Answer, ColourAnswer, FigureDocument, MatrixCell, MatrixVariable } from '@/api/types'
import { layoutMatrix } from '@/render/layout/matrix'
import type { RenderedFigure } from '@/render/figure'
import type { Box, MarksItem, PathItem, TextItem } from '@/render/scene'
import { sceneOf } from '@/kinds/renderers'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'
import { thumbnail } from '@/kinds/renderers'

const variable = (name: string, change: Partial<MatrixVariable> = {}): MatrixVariable => ({
  name,
  label: name,
  unit: '',
  is_date: false,
  low: 0,
  high: 10,
  missing: 0,
  categories: null,
  histogram: [{ code: null, at: [0, 5, 10], height: [3, 1] }],
  density: [],
  ...change,
})

const cell = (x: number, y: number, change: Partial<MatrixCell> = {}): MatrixCell => ({
  x,
  y,
  n: 3,
  strip: false,
  r: 0.5,
  low: 0.2,
  high: 0.7,
  p_value: 0.01,
  groups: [],
  curves: [],
  contours: [],
  counts: [],
  ...change,
})

const grid = (counts: number[], code: number | null = null) => ({
  code,
  x_low: 0,
  x_high: 10,
  y_low: 0,
  y_high: 10,
  across: 2,
  counts,
})

const GROUPS: ColourAnswer = {
  variable: words('Mesh'),
  scale: 'category',
  categories: ['single', 'double'],
  values: ['single', 'double'],
  turns: [0, 1],
  colours: [null, null],
  shown: [true, true],
  low: null,
  high: null,
  missing: 0,
}

function figure(
  matrix: Partial<NonNullable<FigureDocument['matrix']>> = {},
  change: { cells?: MatrixCell[]; variables?: MatrixVariable[]; answer?: Partial<Answer> } = {},
): RenderedFigure {
  const names = ['yield', 'humidity', 'wind']
  const variables = change.variables ?? names.map((name) => variable(name))
  const cells =
    change.cells ?? names.flatMap((_, y) => names.flatMap((__, x) => (x === y ? [] : [cell(x, y)])))
  return {
    document: {
      ...blankDocument('t', 'humidity', 'yield'),
      kind: 'scatterplot matrix',
      matrix: { ...blankMatrix(names), ...matrix },
    },
    answer: {
      ...blankAnswer(axisAnswer('Humidity', 0, 10), axisAnswer('Yield', 0, 10), 3),
      matrix: { variables, cells, rows: 3, complete: 3 },
      ...change.answer,
    },
    marks: {
      ...NO_MARKS,
      row: Uint32Array.of(0, 1, 2),
      x: Float64Array.of(1, 2, 3),
      y: Float64Array.of(1, 2, 3),
      aside: Uint8Array.of(0, 0, 0),
      columns: [Float64Array.of(1, 2, 9), Float64Array.of(0, NaN, 10), Float64Array.of(5, 6, 7)],
    },
  }
}

const texts = (made: ReturnType<typeof layoutMatrix>, part?: string): string[] =>
  made.scene.items
    .filter((i): i is TextItem => i.kind === 'text' && (!part || i.part === part))
    .map(({ runs }) => runs.map(({ text }) => text).join(''))

const meet = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

describe('a scatterplot matrix', () => {
  it('has a cell for every pair, none of which meets another or leaves the page', () => {
    const { cells, diagonal, scene } = layoutMatrix(figure(), measure)
    const boxes = [...cells.map(({ box }) => box), ...diagonal]
    expect(boxes).toHaveLength(9)
    boxes.forEach((box, i) => {
      expect(box.x).toBeGreaterThan(0)
      expect(box.x + box.width).toBeLessThan(scene.width)
      expect(box.y + box.height).toBeLessThan(scene.height)
      for (const other of boxes.slice(i + 1)) expect(meet(box, other)).toBe(false)
    })
  })

  it('takes x from the column and y from the row', () => {
    const { cells } = layoutMatrix(figure({ above: 'points' }), measure)
    const below = cells.find(({ cell: c }) => c.x === 0 && c.y === 2)!
    expect(below.marks!.x[0]).toBeCloseTo(below.x.toPage(1))
    expect(below.marks!.y[0]).toBeCloseTo(below.y.toPage(5))
    const above = cells.find(({ cell: c }) => c.x === 2 && c.y === 0)!
    expect(above.marks!.x[2]).toBeCloseTo(above.x.toPage(7))
    expect(above.marks!.y[2]).toBeCloseTo(above.y.toPage(9))
  })

  it('draws no mark for a row that lacks one of the two', () => {
    const { cells } = layoutMatrix(figure(), measure)
    const pair = cells.find(({ cell: c }) => c.x === 0 && c.y === 1)!
    expect([...pair.marks!.y].map((y) => y > -1000)).toEqual([true, false, true])
  })

  it('shows each region’s own content, and half of it alone where the other is nothing', () => {
    const made = layoutMatrix(figure({ below: 'points', above: 'nothing' }), measure)
    expect(made.cells.filter(({ marks }) => marks).map(({ cell: { x, y } }) => y > x)).toEqual([
      true,
      true,
      true,
    ])
    const marks = made.scene.items.filter((i): i is MarksItem => i.kind === 'marks')
    expect(marks).toHaveLength(3)
    expect(texts(made, 'readings')).toEqual([])
  })

  it('puts categories in strips, named on the edge, with nothing but their marks', () => {
    const names = ['yield', 'mesh', 'wind']
    const mesh = variable('mesh', {
      low: -0.5,
      high: 1.5,
      categories: ['single', 'a very long category'],
      histogram: [{ code: null, at: [-0.5, 0.5, 1.5], height: [2, 1] }],
    })
    const cells = names.flatMap((_, y) =>
      names.flatMap((__, x) =>
        x === y ? [] : [cell(x, y, x === 1 || y === 1 ? { strip: true, r: null } : {})],
      ),
    )
    const variables = names.map((name) => (name === 'mesh' ? mesh : variable(name)))
    const made = layoutMatrix(
      figure({ below: 'points', above: 'r' }, { cells, variables }),
      measure,
    )
    const strips = made.cells.filter(({ cell: { strip } }) => strip)
    expect(strips).toHaveLength(4)
    expect(strips.every(({ marks }) => marks !== null)).toBe(true)
    expect(texts(made, 'readings')).toEqual(['0.50', '0.20 to 0.70'])
    expect(texts(made, 'x-axis')).toContain('a very long…')
    const across = strips.find(({ cell: { x, y } }) => x === 1 && y === 2)!
    expect(across.x.toPage(0)).toBeGreaterThan(across.box.x)
    expect(across.x.toPage(1)).toBeLessThan(across.box.x + across.box.width)
    expect(
      texts(layoutMatrix(figure({ below: 'nothing' }, { cells, variables }), measure), 'readings'),
    ).toHaveLength(2)
  })

  it('says r larger where it is stronger, with its interval below', () => {
    const cells = [cell(1, 0, { r: 0.9 }), cell(2, 0, { r: -0.1, low: null, high: null })]
    const made = layoutMatrix(figure({}, { cells }), measure)
    const said = made.scene.items.filter(
      (i): i is TextItem => i.kind === 'text' && i.part === 'readings',
    )
    expect(said.map(({ runs }) => runs[0].text)).toEqual(['0.90', '0.20 to 0.70', '−0.10'])
    expect(said[0].size).toBeGreaterThan(said[2].size)
  })

  it('says r of each group in its colour', () => {
    const groups = [
      { code: 0, n: 10, r: 0.3 },
      { code: 1, n: 12, r: -0.4 },
    ]
    const cells = [cell(1, 0, { groups })]
    const made = layoutMatrix(figure({}, { cells, answer: { colour: GROUPS } }), measure)
    const said = made.scene.items.filter(
      (i): i is TextItem => i.kind === 'text' && i.part === 'readings',
    )
    expect(said.slice(-2).map(({ runs }) => runs[0].text)).toEqual(['0.30', '−0.40'])
    expect(said.at(-1)!.colour).not.toEqual(said.at(-2)!.colour)
  })

  it('draws r as an ellipse that is thin where it is strong', () => {
    const width = (r: number): number => {
      const made = layoutMatrix(
        figure({ r_as: 'ellipse' }, { cells: [cell(1, 0, { r })] }),
        measure,
      )
      const ellipse = made.scene.items.find(
        (i): i is PathItem => i.kind === 'path' && i.points.length > 100,
      )!
      // Across the falling diagonal: half the spread of x + y turned by the page's direction.
      const across: number[] = []
      for (let i = 0; i < ellipse.points.length; i += 2)
        across.push(ellipse.points[i] + ellipse.points[i + 1])
      return Math.max(...across) - Math.min(...across)
    }
    expect(width(0.95)).toBeLessThan(width(0.2) / 2)
  })

  it('draws trends, contours and counts where they are asked for', () => {
    const curve = { x: [0, 10], y: [0, 10], bands: [] }
    const contours = [{ code: null, share: 0.5, points: [1, 1, 2, 1, 2, 2] }]
    const counts = [grid([4, 0, 0, 1])]
    const cells = [cell(0, 1, { curves: [{ code: null, curve }], contours, counts })]
    const drawn = (below: 'trend' | 'contours' | 'counts'): number =>
      layoutMatrix(figure({ below }, { cells }), measure).scene.items.filter(
        (i) => i.kind === 'path' && i.part === 'marks',
      ).length
    expect([drawn('trend'), drawn('contours'), drawn('counts')]).toEqual([1, 1, 2])
  })

  it('draws the counts of a dataset in the place of its rows, each in the colour of its own', () => {
    // The last code is that of rows without a colour.
    const counts = [grid([0, 4, 0, 0], 0), grid([0, 0, 3, 0], 1), grid([1, 0, 0, 0], 65_535)]
    const { scene, cells } = layoutMatrix(
      figure(
        { below: 'points', above: 'nothing' },
        { cells: [cell(0, 1, { counts })], answer: { colour: GROUPS } },
      ),
      measure,
    )
    const marks = scene.items.filter((item) => item.kind === 'marks')
    expect(marks.filter(({ cells: counted }) => counted)).toHaveLength(1)
    expect([...marks[0].look]).toEqual([0, 1, 2])
    expect([...marks[0].cells!.counts]).toEqual([4, 3, 1])
    // Right of the middle and below it, left and above it, left and below it.
    const { box } = cells[0]
    const middle = { x: box.x + box.width / 2, y: box.y + box.height / 2 }
    expect([...marks[0].x].map((v) => v > middle.x)).toEqual([true, false, false])
    expect([...marks[0].y].map((v) => v > middle.y)).toEqual([true, false, true])
    // No row stands there to be selected.
    expect(cells[0].marks).toBeNull()
  })

  it('names its variables over their distributions, or alone, or not at all', () => {
    expect(texts(layoutMatrix(figure({ axes: 'none' }), measure), 'x-axis')).toEqual([
      'yield',
      'humidity',
      'wind',
    ])
    const nameless = layoutMatrix(figure({ axes: 'none', names: false }), measure)
    expect(texts(nameless, 'x-axis')).toEqual([])
    const alone = layoutMatrix(
      figure({ diagonal: 'nothing' }, { variables: [variable('a', { histogram: [] })], cells: [] }),
      measure,
    )
    expect(texts(alone)).toContain('a')
  })

  it('shrinks a long name into its cell', () => {
    const long = variable('incomprehensibilities', { unit: 'mL/m^2' })
    const variables = [long, variable('b'), variable('c')]
    const narrow = figure({ axes: 'none' }, { variables, cells: [] })
    narrow.document.page = { ...narrow.document.page, width: 330 }
    const made = layoutMatrix(narrow, measure)
    const [box] = made.diagonal
    const named = made.scene.items.filter(
      (i): i is TextItem => i.kind === 'text' && i.x < box.x + box.width,
    )
    expect(named.length).toBeGreaterThan(0)
    for (const item of named) {
      const wide = item.runs.reduce((sum, run) => sum + run.text.length * item.size * 0.5, 0)
      expect(wide).toBeLessThanOrEqual(box.width)
    }
  })

  it('puts ticks on the outer edge alone, on alternating sides', () => {
    const { scene, diagonal } = layoutMatrix(figure({ diagonal: 'nothing', names: false }), measure)
    const labels = scene.items.filter((i): i is TextItem => i.kind === 'text')
    const top = diagonal[0].y
    const foot = diagonal[2].y + diagonal[2].height
    const across = labels.filter(({ part }) => part === 'x-axis')
    expect(across.every(({ y }) => y < top || y > foot)).toBe(true)
    expect(across.some(({ y }) => y < top)).toBe(true)
    expect(across.some(({ y }) => y > foot)).toBe(true)
    const inner = layoutMatrix(figure({ axes: 'none', names: false }), measure)
    expect(texts(inner, 'x-axis')).toEqual([])
  })

  it('moves marks as was set, and never past the edge of their cell', () => {
    const made = (jitter: number) => {
      const own = figure()
      const document = { ...own.document, jitter: { ...own.document.jitter, x: jitter, y: jitter } }
      return layoutMatrix({ ...own, document }, measure).cells.find(
        ({ cell: c }) => c.x === 0 && c.y === 1,
      )!
    }
    expect(made(0).marks!.x[0]).toBeCloseTo(made(0).x.toPage(1), 3)
    const moved = made(0.4)
    expect(moved.marks!.x[0]).not.toBeCloseTo(moved.x.toPage(1), 3)
    for (const place of moved.marks!.x) {
      expect(place).toBeGreaterThan(moved.box.x)
      expect(place).toBeLessThan(moved.box.x + moved.box.width)
    }
  })

  it('has a legend where colours tell rows apart', () => {
    const made = layoutMatrix(
      {
        ...figure({}, { answer: { colour: GROUPS } }),
        marks: { ...figure().marks, colour: Uint16Array.of(0, 1, 0) },
      },
      measure,
    )
    expect(texts(made, 'legend')).toEqual(['Mesh', 'single', 'double'])
  })

  it('is a scene like any other, and a small picture without words', () => {
    expect(sceneOf(figure(), measure).items.length).toBeGreaterThan(10)
    const small = thumbnail(figure(), 98, 60)
    expect(small.width).toBeCloseTo(98 * 4)
    expect(small.items.filter((i) => i.kind === 'text' && i.part === 'x-axis')).toEqual([])
  })
})
