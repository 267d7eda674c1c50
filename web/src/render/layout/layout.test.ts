import { describe, expect, it } from 'vitest'
import { blankAxis, blankDocument } from '@/figure-model/blank'
import type { Answer, Axis, ColourAnswer, FigureDocument, Marks } from '@/api/types'
import { CATEGORIES, toHex } from '@/render/colours'
import { homeView } from './extents'
import { layoutFigure } from './figure'
import type { RenderedFigure } from '@/render/figure'
import { writeSvg } from '@/render/paint/svg'
import type { Item, PathItem, TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'

const DOCUMENT = blankDocument('t', 'Humidity', 'Yield')

const axis = (change: Partial<Axis>): Axis => ({ ...blankAxis(), ...change })

function figure(
  change: Partial<FigureDocument> = {},
  answer: Partial<Answer> = {},
): RenderedFigure {
  const marks: Marks = {
    row: Uint32Array.of(0, 1, 2),
    x: Float64Array.of(60, 80, 100),
    y: Float64Array.of(100, 300, 200),
    aside: Uint8Array.of(0, 0, 0),
    ...NO_MARKS,
  }
  const base = blankAnswer(
    axisAnswer('Humidity', 60, 100, '%'),
    axisAnswer('Yield', 100, 300, 'mL/m^2'),
    3,
  )
  const coloured = answer.colour ? { ...marks, colour: Uint16Array.of(0, 1, 0) } : marks
  return { document: { ...DOCUMENT, ...change }, answer: { ...base, ...answer }, marks: coloured }
}

const VALLEYS: ColourAnswer = {
  variable: words('Valley'),
  scale: 'category',
  categories: ['Argill', 'Bracken', 'Corrie'],
  values: ['Argill', 'Bracken', 'Corrie'],
  turns: [0, 1, 2],
  colours: [null, null, null],
  shown: [true, true, false],
  low: null,
  high: null,
  missing: 0,
}

const texts = (items: readonly Item[], part?: string) =>
  items
    .filter((item): item is TextItem => item.kind === 'text' && (!part || item.part === part))
    .map(({ runs }) => runs.map((run) => run.text).join(''))

/** The box of a text, turned or not. */
function boxOf(item: TextItem): [number, number, number, number] {
  const width = item.runs.reduce((sum, run) => sum + measure(run.text, item.size, 400, 'sans'), 0)
  const start = item.anchor === 'start' ? 0 : item.anchor === 'middle' ? -width / 2 : -width
  return item.turn
    ? [item.x - item.size, item.y - start - width, item.x, item.y - start]
    : [item.x + start, item.y - item.size, item.x + start + width, item.y]
}

describe('a figure laid out', () => {
  it('names both axes with their units', () => {
    const { scene } = layoutFigure(figure(), measure)
    expect(texts(scene.items, 'x-axis')).toContain('Humidity (%)')
    expect(texts(scene.items, 'y-axis')).toContain('Yield (mL/m2)')
  })

  it('has a mark for each row, at its place on the scales', () => {
    const { marks, x, y } = layoutFigure(figure(), measure)
    expect(marks.x[1]).toBeCloseTo(x.toPage(80), 3)
    expect(marks.y[1]).toBeCloseTo(y.toPage(300), 3)
    expect(x.toPage(60)).toBeLessThan(x.toPage(100))
    expect(y.toPage(300)).toBeLessThan(y.toPage(100))
  })

  it('has neither title nor legend until they say something', () => {
    const { scene } = layoutFigure(figure(), measure)
    expect(texts(scene.items, 'title')).toEqual([])
    expect(texts(scene.items, 'legend')).toEqual([])
  })

  it('lists in the legend the categories that are drawn, and those alone', () => {
    const { scene } = layoutFigure(figure({}, { colour: VALLEYS }), measure)
    expect(texts(scene.items, 'legend')).toEqual(['Valley', 'Argill', 'Bracken'])
  })

  it('keeps the colour of a category in whatever order it stands', () => {
    const moved = { ...VALLEYS, turns: [2, 0, 1], colours: [null, '#102030', null] }
    const looks = layoutFigure(figure({}, { colour: moved }), measure).marks.looks
    expect(looks.slice(0, 3).map(({ colour }) => toHex(colour))).toEqual([
      toHex(CATEGORIES[2]),
      '#102030',
      toHex(CATEGORIES[1]),
    ])
  })

  it('says what hollow marks are', () => {
    const made = figure(
      {},
      {
        colour: { ...VALLEYS, missing: 1 },
        counts: { rows: 3, filtered: 0, drawn: 3, set_aside: 1, not_drawn: [] },
      },
    )
    const { scene } = layoutFigure(made, measure)
    expect(texts(scene.items, 'legend').slice(-2)).toEqual(['no valley', 'set aside'])
  })

  it('keeps every word on the page', () => {
    const wide = figure(
      {
        title: 'A title that is much longer than the page is wide and so has to be wrapped '.repeat(
          3,
        ),
        axes: {
          ...DOCUMENT.axes,
          x: axis({
            title: 'An axis title that is far too long for one line '.repeat(4),
            low: null,
            high: null,
          }),
          y: axis({
            title: 'Up as well, in many words that have to be wrapped '.repeat(4),
            low: null,
            high: null,
          }),
        },
        legend: { ...DOCUMENT.legend, place: 'right' },
      },
      { colour: VALLEYS, y: axisAnswer('Yield', -12_345_678, 98_765_432) },
    )
    const { scene } = layoutFigure(wide, measure)
    for (const item of scene.items) {
      if (item.kind !== 'text') continue
      const [left, top, right, bottom] = boxOf(item)
      expect(left).toBeGreaterThanOrEqual(0)
      expect(top).toBeGreaterThanOrEqual(0)
      expect(right).toBeLessThanOrEqual(720)
      expect(bottom).toBeLessThanOrEqual(610)
    }
  })

  it('keeps tick labels across apart', () => {
    const dated = figure(
      {},
      {
        x: { ...axisAnswer('Day', 21_000, 21_900), variable: words('Day', '', 'date') },
      },
    )
    for (const width of [150, 300, 720]) {
      const { scene } = layoutFigure(
        {
          ...dated,
          document: { ...dated.document, page: { ...DOCUMENT.page, width, height: 300 } },
        },
        measure,
      )
      const ticks = scene.items
        .filter((i): i is TextItem => i.kind === 'text' && i.part === 'x-axis' && i.weight === 400)
        .map(boxOf)
      for (let i = 1; i < ticks.length; i++) expect(ticks[i][0]).toBeGreaterThan(ticks[i - 1][2])
    }
  })

  it('runs its axis lines over the data and on to the ticks, not to the ends', () => {
    const { scene, x } = layoutFigure(figure(), measure)
    const [line] = scene.items.filter(
      (i): i is PathItem => i.kind === 'path' && i.part === 'x-axis',
    )
    expect(line.points[0]).toBeCloseTo(x.toPage(60))
    expect(line.points[2]).toBeCloseTo(x.toPage(100))
  })

  it('takes the ends that are given', () => {
    const given = figure({
      axes: {
        ...DOCUMENT.axes,
        x: axis({ title: null, low: 0, high: null }),
        y: axis({ title: null, low: null, high: 1000 }),
      },
    })
    const view = homeView(given)
    expect(view.x[0]).toBe(0)
    expect(view.y[1]).toBe(1000)
  })

  it('has room for a line that passes the data, but not below zero where no value is', () => {
    const curve = { x: [60, 100], y: [-50, 400], bands: [] }
    const trend = {
      trend: 0,
      family_label: 'straight line',
      group_code: null,
      group_value: null,
      carried: [],
      with_all: null,
      report: {} as Answer['trends'][number]['report'],
      curve,
    }
    const view = homeView(figure({}, { trends: [trend] }))
    expect(view.y[0]).toBe(0)
    expect(view.y[1]).toBeGreaterThan(400)
  })

  it('keeps marks that are jittered past zero on the page', () => {
    const made = figure({ jitter: { x: 0.4, y: 0 } })
    made.marks.x = Float64Array.of(0, 8, 8)
    const { x } = homeView({
      ...made,
      answer: { ...made.answer, x: axisAnswer('Cloud', 0, 8) },
    })
    expect(x[0]).toBeLessThanOrEqual(-3.2)
    expect(x[1]).toBeGreaterThanOrEqual(11.2)
  })

  it('keeps room for distributions along the axes', () => {
    const margin = [{ code: null, at: [60, 80, 100], height: [4, 2] }]
    const plain = figure()
    const made = figure(
      { margins: { x: 'histogram', y: 'none' } },
      { x: { ...axisAnswer('Humidity', 60, 100, '%'), margin } },
    )
    const { plot, x, scene } = layoutFigure(made, measure)
    expect(plot.y).toBeGreaterThan(layoutFigure(plain, measure).plot.y + 40)
    const bars = scene.items.find(
      (item): item is PathItem => item.kind === 'path' && item.fillOpacity === 0.32,
    )!
    // From the ground over each step to the ground: twelve numbers, the taller step twice as high.
    const [x0, ground, , top, x1, , , lower] = bars.points
    expect([x0, x1]).toEqual([x.toPage(60), x.toPage(80)])
    expect((ground - top) / (ground - lower)).toBeCloseTo(2, 6)
  })

  it('says so when no row can be drawn', () => {
    const empty = figure(
      {},
      {
        x: axisAnswer('Humidity', null, null),
        y: axisAnswer('Yield', null, null),
        counts: { rows: 3, filtered: 0, drawn: 0, set_aside: 0, not_drawn: [] },
      },
    )
    const none = {
      ...empty,
      marks: {
        ...empty.marks,
        row: new Uint32Array(),
        x: new Float64Array(),
        y: new Float64Array(),
      },
    }
    const { scene } = layoutFigure(none, measure)
    expect(texts(scene.items)).toContain('No row has both Yield and Humidity.')
  })
})

describe('a scene as SVG', () => {
  const embed = () => 'data:image/png;base64,xxxx'
  const write = (made: RenderedFigure) =>
    writeSvg(layoutFigure(made, measure).scene, {
      title: 'Yield <against> humidity',
      fontFaces: '',
      scale: 3,
      embed,
    })

  it('has real text, escaped, and one element for each mark', async () => {
    const svg = await write(figure({ title: 'Dew & fog' }))
    expect(svg).toContain('<title>Yield &lt;against&gt; humidity</title>')
    expect(svg).toContain('Dew &amp; fog')
    expect(svg.match(/<use /g)).toHaveLength(3)
    expect(svg).toContain('width="720pt"')
    expect(svg).not.toContain('NaN')
  })

  it('raises and lowers by the same measures as the screen', async () => {
    const svg = await write(figure())
    expect(svg).toMatch(/Yield \(mL\/m<tspan dy="-4.5" font-size="8.75">2<\/tspan><tspan dy="4.5"/)
  })

  it('embeds very many marks as an image', async () => {
    const made = figure()
    const count = 20_001
    const many = {
      ...made,
      marks: {
        ...made.marks,
        row: new Uint32Array(count),
        x: new Float64Array(count).fill(80),
        y: new Float64Array(count).fill(200),
        aside: new Uint8Array(count),
      },
    }
    const svg = await write(many)
    expect(svg).toContain('href="data:image/png;base64,xxxx"')
    expect(svg).not.toContain('<use ')
  })
})

describe('a legend that is wide', () => {
  const names = Array.from({ length: 8 }, (_, i) => `a valley of a long name ${i}`)
  const colour: ColourAnswer = {
    ...VALLEYS,
    categories: names,
    turns: names.map((_, i) => i),
    colours: names.map(() => null),
    shown: names.map(() => true),
  }
  const shown = { colour: { ...colour } }

  it('goes below the plot on a narrow page, with entries side by side where there is room', () => {
    const page = { ...DOCUMENT.page, width: 420, height: 500 }
    const { plot, entries } = layoutFigure(figure({ page }, shown), measure)
    expect(entries).toHaveLength(8)
    for (const { box } of entries) {
      expect(box.y).toBeGreaterThan(plot.y + plot.height)
      expect(box.x + box.width).toBeLessThanOrEqual(page.width)
      expect(box.y + box.height).toBeLessThanOrEqual(page.height)
    }
    expect(new Set(entries.map(({ box }) => box.x)).size).toBe(2)
    // No two of them meet.
    entries.forEach(({ box: a }, i) =>
      entries.slice(0, i).forEach(({ box: b }) => {
        expect(a.x >= b.x + b.width || b.x >= a.x + a.width || a.y !== b.y).toBe(true)
      }),
    )
  })

  it('stays beside the plot, or in its corner, on a wide one', () => {
    const page = { ...DOCUMENT.page, width: 900, height: 500 }
    const { plot, entries } = layoutFigure(figure({ page }, shown), measure)
    for (const { box } of entries) expect(box.y).toBeLessThan(plot.y + plot.height)
  })
})

describe('an axis of whole numbers', () => {
  it('has no ticks between them, where another has', () => {
    const few = { x: axisAnswer('Cloud', 1, 3), y: axisAnswer('Yield', 100, 300) }
    const of = (values: number[]) => {
      const made = figure({}, few)
      made.marks.x = Float64Array.from(values)
      return texts(layoutFigure(made, measure).scene.items, 'x-axis').slice(0, -1)
    }
    expect(of([1, 2, 3])).toEqual(['1', '2', '3'])
    expect(of([1, 2.5, 3]).some((label) => label.includes('.'))).toBe(true)
  })
})

describe('distributions along an axis', () => {
  it('of several groups have no fills that could mix', () => {
    const margin = [0, 1, 2].map((code) => ({ code, at: [60, 80, 100], height: [1, 3, 1] }))
    const answer = {
      colour: VALLEYS,
      x: { ...axisAnswer('Humidity', 60, 100), margin },
    }
    const { items } = layoutFigure(
      figure({ margins: { x: 'density', y: 'none' } }, answer),
      measure,
    ).scene
    const drawn = items.filter(
      (item): item is PathItem =>
        item.kind === 'path' && item.part === 'ground' && item.width === 1.3,
    )
    expect(new Set(drawn.map(({ stroke }) => String(stroke))).size).toBe(3)
    expect(drawn.every(({ fill }) => !fill)).toBe(true)
  })
})
