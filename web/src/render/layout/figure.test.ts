import { describe, expect, it } from 'vitest'
import {
  blankAxis,
  blankBar,
  blankColour,
  blankConnect,
  blankDocument,
  blankNames,
  blankReference,
  blankSize,
  blankTrend,
} from '@/figure-model/blank'
import type { Answer, Axis, ColourAnswer, FigureDocument, Marks } from '@/api/types'
import { CATEGORIES, lightnessOf, RAMPS, stepsOf, tide, toHex } from '@/render/colours'
import { layoutFigure, type Layout } from './figure'
import { moved } from './moving'
import { diameterOf } from '@/render/marks/bubbles'
import { looksOf, rampOf } from '@/render/marks/looks'
import { writeSvg } from '@/render/paint/svg'
import type { Item, MarksItem, PathItem, SegmentsItem, TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'

const DOCUMENT = blankDocument('t', 'dose', 'shed')
const MARKS: Marks = {
  row: Uint32Array.of(10, 11, 12, 13),
  x: Float64Array.of(1, 4, 2, 3),
  y: Float64Array.of(10, 40, 20, 30),
  aside: Uint8Array.of(0, 0, 0, 0),
  ...NO_MARKS,
}

const ANSWER = blankAnswer(axisAnswer('Dose', 1, 4), axisAnswer('Shed', 10, 40), 4)

const GROUPS: ColourAnswer = {
  variable: words('Coating'),
  scale: 'category',
  categories: ['wax', 'film'],
  values: ['wax', 'film'],
  turns: [0, 1],
  colours: [null, null],
  shown: [true, true],
  low: null,
  high: null,
  missing: 0,
}

function lay(
  change: Partial<FigureDocument> = {},
  answer: Partial<Answer> = {},
  marks: Partial<Marks> = {},
): Layout {
  return layoutFigure(
    {
      document: { ...DOCUMENT, ...change },
      answer: { ...ANSWER, ...answer },
      marks: { ...MARKS, ...marks },
    },
    measure,
  )
}

const axes = (
  side: 'x' | 'y',
  change: Partial<Axis>,
  rest: Partial<FigureDocument['axes']> = {},
) => ({
  axes: { ...DOCUMENT.axes, [side]: { ...blankAxis(), ...change }, ...rest },
})

const texts = ({ scene }: Layout, part: string): TextItem[] =>
  scene.items.filter((item): item is TextItem => item.kind === 'text' && item.part === part)

const read = (items: TextItem[]): string[] =>
  items.map(({ runs }) => runs.map(({ text }) => text).join(''))

const paths = ({ scene }: Layout, part: string): PathItem[] =>
  scene.items.filter((item): item is PathItem => item.kind === 'path' && item.part === part)

const marksOf = ({ scene }: Layout): MarksItem =>
  scene.items.find((item): item is MarksItem => item.kind === 'marks' && item.part === 'marks')!

describe('an axis', () => {
  it('runs backwards where it is reversed', () => {
    const plain = lay()
    const turned = lay(axes('x', { reversed: true }))
    expect(plain.x.toPage(1)).toBeLessThan(plain.x.toPage(4))
    expect(turned.x.toPage(1)).toBeGreaterThan(turned.x.toPage(4))
  })

  it('says how many marks lie beyond ends that were typed', () => {
    expect(lay().beyond).toBe(0)
    expect(lay(axes('x', { high: 2.5 })).beyond).toBe(2)
    expect(lay(axes('y', { low: 15 }, { x: { ...blankAxis(), high: 2.5 } })).beyond).toBe(3)
  })

  it('stands at the step and the places that were set', () => {
    expect(read(texts(lay(axes('x', { step: 1.5 })), 'x-axis')).slice(0, -1)).toEqual([
      '1.5',
      '3.0',
    ])
    const own = lay(axes('x', { positions: [4, 1, 99] }))
    expect(read(texts(own, 'x-axis')).slice(0, -1)).toEqual(['1', '4'])
  })

  it('dresses its labels with digits and words', () => {
    const dressed = lay(axes('x', { positions: [1, 4], digits: 2, prefix: '~', suffix: ' g' }))
    expect(read(texts(dressed, 'x-axis')).slice(0, -1)).toEqual(['~1.00 g', '~4.00 g'])
  })

  it('has ticks on the side that was chosen, and none where none are wanted', () => {
    const ends = (ticks: Axis['ticks']) => {
      const made = lay(axes('x', { ticks, positions: [2] }))
      const [line, tick] = paths(made, 'x-axis')
      return tick ? [tick.points[1] - line.points[1], tick.points[3] - line.points[1]] : []
    }
    expect(ends('out')).toEqual([0, 5])
    expect(ends('in')).toEqual([-5, 0])
    expect(ends('across')).toEqual([-5, 5])
    expect(ends('none')).toEqual([])
  })

  it('has small ticks between the large ones', () => {
    const made = lay(axes('x', { positions: [1, 2, 3, 4], small_ticks: 1 }))
    // The line, three small ticks and four large ones.
    expect(paths(made, 'x-axis')).toHaveLength(8)
  })

  it('slants its labels where they would meet, or where it is asked to', () => {
    const turns = (change: Partial<Axis>) => texts(lay(axes('x', change)), 'x-axis')[0].turn
    expect(turns({})).toBe(0)
    expect(turns({ labels: 'slanted' })).toBe(-45)
    expect(turns({ labels: 'upright' })).toBe(-90)
    const many = Array.from({ length: 40 }, (_, i) => 1 + i * 0.075)
    expect(turns({ positions: many, digits: 3 })).toBe(-45)
    expect(turns({ positions: many, digits: 3, labels: 'level' })).toBe(0)
  })

  it('has gridlines over the whole plot where they are wanted', () => {
    const lines = (grid: Axis['grid']) => {
      const made = lay(axes('x', { grid, positions: [2, 3], small_ticks: 1 }))
      return paths(made, 'ground').filter(({ points }) => points[0] === points[2]).length
    }
    expect(lines('none')).toBe(0)
    expect(lines('large')).toBe(2)
    expect(lines('all')).toBeGreaterThan(2)
  })

  it('stands at a value of the other one', () => {
    const made = lay(axes('y', { crosses: 25 }))
    const [line] = paths(made, 'x-axis')
    expect(line.points[1]).toBeCloseTo(made.y.toPage(25), 6)
  })

  it('spans the data, the plot, or goes round it', () => {
    const plot = (made: Layout) => [made.plot.x, made.plot.x + made.plot.width]
    const ends = (made: Layout) => {
      const { points } = paths(made, 'x-axis')[0]
      return [points[0], points[2]]
    }
    const range = lay()
    expect(ends(range)[0]).toBeGreaterThan(plot(range)[0])
    const full = lay({ axes: { ...DOCUMENT.axes, frame: 'full' } })
    expect(ends(full)).toEqual(plot(full))
    const box = lay({ axes: { ...DOCUMENT.axes, frame: 'box' } })
    expect(paths(box, 'ground').some(({ closed, fill }) => closed && !fill)).toBe(true)
  })

  it('has units as long as those of the other one where both are to be equal', () => {
    const made = lay({ axes: { ...DOCUMENT.axes, equal: true } })
    const across = made.x.toPage(2) - made.x.toPage(1)
    const up = made.y.toPage(1) - made.y.toPage(2)
    expect(across).toBeCloseTo(up, 6)
  })

  it('counts what its scale has no place for and draws the rest', () => {
    const made = lay(
      axes('x', { scale: 'log' }),
      { x: axisAnswer('Dose', -1, 100) },
      { x: Float64Array.of(-1, 0, 1, 100) },
    )
    expect(made.off).toBe(2)
    expect(made.x.domain[0]).toBeGreaterThan(0.5)
    expect(made.x.domain[0]).toBeLessThan(1)
  })
})

describe('error bars', () => {
  const bars = {
    y_low: Float64Array.of(8, NaN, 15, 28),
    y_high: Float64Array.of(11, NaN, 28, 33),
  }
  const segments = (made: Layout): SegmentsItem =>
    made.scene.items.find((item): item is SegmentsItem => item.kind === 'segments')!

  it('run from end to end with their caps, and are left out where there is none', () => {
    const made = lay({ error_bars: { x: null, y: { ...blankBar(), cap: 6 } } }, {}, bars)
    const { points } = segments(made)
    // Three bars, each with two caps, four numbers a line.
    expect(points).toHaveLength(3 * 3 * 4)
    expect([...points.slice(0, 4)].map((v) => Math.round(v * 100))).toEqual(
      [made.x.toPage(1), made.y.toPage(8), made.x.toPage(1), made.y.toPage(11)].map((v) =>
        Math.round(v * 100),
      ),
    )
  })

  it('widen the axis, so that none is cut off', () => {
    const made = lay(
      { error_bars: { x: null, y: blankBar() } },
      {},
      {
        y_low: Float64Array.of(-30, 40, 20, 30),
        y_high: Float64Array.of(10, 90, 20, 30),
      },
    )
    expect(made.y.domain[1]).toBeGreaterThan(90)
  })

  it('have the colours of their marks', () => {
    const made = lay(
      { error_bars: { x: null, y: { ...blankBar(), cap: 0 } } },
      { colour: GROUPS },
      { ...bars, colour: Uint16Array.of(0, 0, 1, 1) },
    )
    const found = made.scene.items.filter((item): item is SegmentsItem => item.kind === 'segments')
    expect(found.map(({ stroke }) => toHex(stroke))).toEqual(CATEGORIES.slice(0, 2).map(toHex))
    expect(found.map(({ points }) => points.length)).toEqual([4, 8])
  })
})

describe('very many error bars', () => {
  const count = 9_000
  const column = (make: (i: number) => number): Float64Array =>
    Float64Array.from({ length: count }, (_, i) => make(i))
  const many = {
    row: Uint32Array.from({ length: count }, (_, i) => i),
    aside: new Uint8Array(count),
    x: column((i) => 1 + (i % 90)),
    y: column((i) => 1 + (i % 100)),
    y_low: column((i) => (i % 3 ? (i % 100) - 1 : NaN)),
    y_high: column((i) => 2 + (i % 100)),
  }
  const made = lay(
    {
      ...axes('y', { scale: 'log' }),
      error_bars: { x: null, y: blankBar() },
      marks: { ...DOCUMENT.marks, front: ['film'] },
    },
    { colour: GROUPS },
    { ...many, colour: Uint16Array.from(many.row, (i) => (i + 1) % 2) },
  )
  const [{ low, high, side }] = made.marks.bars!

  it('end where their marks do, in the order in which these are drawn', () => {
    expect(side).toBe('y')
    // The category in front is drawn last.
    expect(made.source[0] % 2).toBe(1)
    for (let k = 0; k < count; k += 501) {
      const i = made.source[k]
      if (Number.isNaN(many.y_low[i])) expect([low[k], high[k]]).toEqual([-1e6, -1e6])
      // What a logarithmic axis has no place for ends beyond where it begins.
      else if (many.y_low[i] <= 0) expect(low[k]).toBe(Infinity)
      else expect(low[k]).toBeCloseTo(made.y.toPage(many.y_low[i]), 2)
      if (low[k] !== -1e6) expect(high[k]).toBeCloseTo(made.y.toPage(many.y_high[i]), 2)
    }
    expect(made.scene.items.some(({ kind }) => kind === 'segments')).toBe(false)
  })

  it('are moved with their marks', () => {
    const [there] = moved([made.marks], 30, 70) as MarksItem[]
    const bar = high.findIndex((place) => place > 0)
    expect(there.bars![0].high[bar]).toBeCloseTo(high[bar] + 70, 3)
    expect(there.y[bar]).toBeCloseTo(made.marks.y[bar] + 70, 3)
  })

  it('are a picture with them in a file of vectors', () => {
    const written = writeSvg(made.scene, {
      title: '',
      fontFaces: '',
      embed: (item) => `picture of ${item.bars!.length}`,
      scale: 2,
    })
    expect(written).toContain('picture of 1')
    // But for those of the legend.
    expect(written.match(/<use /g)!.length).toBeLessThan(4)
  })
})

describe('connecting lines', () => {
  const lines = (made: Layout) => paths(made, 'marks')

  it('go from left to right, or as the rows stand', () => {
    const [byX] = lines(lay({ connect: blankConnect() }))
    const xs = [...byX.points].filter((_, i) => i % 2 === 0)
    expect(xs).toEqual([...xs].sort((a, b) => a - b))
    const [asRows] = lines(lay({ connect: { ...blankConnect(), order: 'rows' } }))
    expect(asRows.points[2]).toBeGreaterThan(asRows.points[4])
  })

  it('are one for each colour, and pass by what is set aside', () => {
    const made = lay(
      { connect: blankConnect() },
      { colour: GROUPS },
      { colour: Uint16Array.of(0, 0, 1, 0), aside: Uint8Array.of(0, 1, 0, 0) },
    )
    const found = lines(made)
    expect(found).toHaveLength(1)
    expect(found[0].points).toHaveLength(4)
  })
})

describe('reference lines', () => {
  it('stand at the mean that the answer tells, with their words beside them', () => {
    const made = lay(
      { references: [{ ...blankReference(), label: 'enough' }] },
      { y: { ...ANSWER.y, mean: 25 } },
    )
    const [line] = paths(made, 'reference-0')
    expect(line.points[1]).toBeCloseTo(made.y.toPage(25), 6)
    expect(read(texts(made, 'reference-0'))).toEqual(['enough'])
  })

  it('shade a range, and run along y = x', () => {
    const made = lay({
      references: [
        { ...blankReference(), axis: 'x', at: 'range', value: 2, high: 3 },
        { ...blankReference(), axis: 'both', at: 'identity' },
      ],
    })
    const [range] = paths(made, 'reference-0')
    expect([range.points[0], range.points[2]]).toEqual([made.x.toPage(2), made.x.toPage(3)])
    expect(range.fillOpacity).toBeLessThan(0.2)
    // Dose ends at 4 and shed starts at 10: nothing is the same on both.
    expect(paths(made, 'reference-1')).toHaveLength(0)
  })

  it('are clicked where they are drawn', () => {
    const made = lay({ references: [{ ...blankReference(), at: 'value', value: 20 }] })
    const region = made.scene.regions.find(({ part }) => part === 'reference-0')!
    const at = made.y.toPage(20)
    expect(region.box.y).toBeLessThan(at)
    expect(region.box.y + region.box.height).toBeGreaterThan(at)
  })
})

describe('notes', () => {
  it('are moved inside where they would be cut off', () => {
    const note = { text: 'here', anchor: 'page' as const, x: 0.99, y: 0.999, points_to: null }
    const made = lay({ notes: [note] })
    const [item] = texts(made, 'note-0')
    expect(item.x + 4 * 12.5 * 0.5).toBeLessThanOrEqual(720)
    expect(item.y).toBeLessThan(610)
  })

  it('stay with the data they speak of, and point to them', () => {
    const note = {
      text: 'turns',
      anchor: 'data' as const,
      x: 2,
      y: 30,
      points_to: [3, 30] as [number, number],
    }
    const made = lay({ notes: [note] })
    expect(texts(made, 'note-0')[0].x).toBeCloseTo(made.x.toPage(2), 6)
    const [pointer] = paths(made, 'note-0')
    expect([pointer.points[2], pointer.points[3]]).toEqual([made.x.toPage(3), made.y.toPage(30)])
  })
})

describe('the legend', () => {
  it('calls entries as they were renamed, and leaves out hidden ones', () => {
    const legend = { ...DOCUMENT.legend, renamed: { wax: 'plain wax' }, hidden: ['film'] }
    const made = lay({ legend }, { colour: GROUPS }, { colour: Uint16Array.of(0, 1, 0, 1) })
    expect(read(texts(made, 'legend'))).toEqual(['Coating', 'plain wax'])
    expect(made.entries.map(({ code }) => code)).toEqual([0])
  })

  it('stands where it was dragged, as far as the page reaches', () => {
    const at = (x: number, y: number) => {
      const legend = { ...DOCUMENT.legend, place: 'free' as const, x, y }
      const made = lay({ legend }, { colour: GROUPS }, { colour: Uint16Array.of(0, 1, 0, 1) })
      return made.scene.regions.find(({ part }) => part === 'legend')!.box
    }
    expect([at(0.5, 0.25).x, at(0.5, 0.25).y]).toEqual([360, 152.5])
    const corner = at(2, 2)
    expect([corner.x + corner.width, corner.y + corner.height]).toEqual([720, 610])
  })

  it('tells sizes by circles and says what has none', () => {
    const size = { variable: words('Homes'), low: 2, high: 95, non_positive: 1, missing: 0 }
    const made = lay(
      { size: blankSize('homes') },
      { size },
      { size: Float64Array.of(95, 20, 2, -1) },
    )
    expect(read(texts(made, 'legend'))).toEqual(['Homes', '80', '20', 'homes not above 0'])
    expect(paths(made, 'sizes').filter(({ closed }) => closed)).toHaveLength(2)
  })
})

describe('looks of marks', () => {
  const looks = (change: Partial<FigureDocument>, answer: Partial<Answer>, marks: Partial<Marks>) =>
    looksOf({ ...DOCUMENT, ...change }, { ...ANSWER, ...answer }, { ...MARKS, ...marks }, 1e5)

  it('of a small group among very many are not as pale as the many', () => {
    const count = 20_000
    const many: Partial<Marks> = {
      row: Uint32Array.from({ length: count }, (_, i) => i),
      x: new Float64Array(count).fill(2),
      y: new Float64Array(count).fill(20),
      aside: new Uint8Array(count),
      colour: Float64Array.from({ length: count }, (_, i) => Number(i < 5)),
    }
    const { category } = looks({ colour: blankColour('coating') }, { colour: GROUPS }, many)
    expect(category(0).opacity).toBeLessThan(0.2)
    expect(category(1).opacity).toBeGreaterThan(0.8)
  })

  it('grow with their value, the largest drawn first, those without hollow', () => {
    const size = { variable: words('Homes'), low: 4, high: 100, non_positive: 1, missing: 0 }
    const made = looks(
      { size: { ...blankSize('homes'), largest: 40 } },
      { size },
      { size: Float64Array.of(4, 100, -3, 25) },
    )
    expect([...made.sizes!]).toEqual([8, 40, 3, 20])
    expect([...made.order!]).toEqual([1, 3, 0, 2])
    expect([...made.of].map((i) => made.looks[i].hollow)).toEqual([false, false, true, false])
  })

  it('are singled out over all others', () => {
    const one = { rows: [10], colour: '#102030', shape: 'star' as const, size: 2, name: null }
    const made = looks({ singled_out: [one] }, {}, {})
    expect([...made.order!]).toEqual([1, 2, 3, 0])
    const look = made.looks[made.of[0]]
    expect([toHex(look.colour), look.shape, look.size]).toEqual(['#102030', 'star', 12])
    expect(made.looks[made.of[1]].size).toBe(6)
  })

  it('keep a size that means something where they are singled out: a ring stands out', () => {
    const one = { rows: [10], colour: null, shape: null, size: 2, name: null }
    const size = { variable: words('Homes'), low: 1, high: 100, non_positive: 0, missing: 0 }
    const by = (singled: (typeof one)[]) =>
      looks(
        { size: blankSize('homes'), singled_out: singled },
        { size },
        { size: Float64Array.of(4, 9, 16, 25) },
      )
    const [plain, made] = [by([]), by([one])]
    expect([...made.sizes!]).toEqual([...plain.sizes!])
    const look = made.looks[made.of[0]]
    expect(look.size).toBe(plain.looks[plain.of[0]].size)
    expect(look.edge).not.toBeNull()
    expect(look.halo).toBeGreaterThan(1)
  })

  it('are those of their category and their size, however many categories there are', () => {
    const count = 50_000
    const every = Array.from({ length: count }, (_, code) => code)
    const colour: ColourAnswer = {
      ...GROUPS,
      categories: every.map(String),
      turns: every.map((code) => code % 8),
      colours: every.map(() => null),
      shown: every.map(() => true),
    }
    const size = { variable: words('Homes'), low: 1, high: 100, non_positive: 0, missing: 0 }
    const diameter = diameterOf(blankSize('homes'), size)
    const made = looks(
      { size: blankSize('homes'), singled_out: [] },
      { colour, size },
      {
        row: Uint32Array.from(every),
        aside: Uint8Array.from(every, (code) => Number(code % 1000 === 7)),
        colour: Uint16Array.from(every),
        size: Float64Array.from(every, (code) => 1 + (code % 100)),
      },
    )
    for (const code of every) {
      const look = made.looks[made.of[code]]
      const wanted = made.category(code)
      const isAside = code % 1000 === 7
      if (
        look.size !== diameter(1 + (code % 100)) ||
        look.shape !== wanted.shape ||
        look.hollow !== isAside
      )
        throw new Error(`The mark of category ${code} has another look.`)
      if (toHex(look.colour) !== toHex(wanted.colour))
        throw new Error(`${code} has another colour.`)
    }
    expect(made.looks.length).toBeLessThan(5_000)
  })

  it('lie over one another by size, by category and by what is chosen, in this order', () => {
    const size = { variable: words('Homes'), low: 1, high: 5, non_positive: 0, missing: 0 }
    const count = 60
    const every = Array.from({ length: count }, (_, i) => i)
    const own = {
      row: Uint32Array.from(every, (i) => 100 + i),
      aside: new Uint8Array(count),
      colour: Uint16Array.from(every, (i) => (i % 7 ? i % 2 : 65_535)),
      size: Float64Array.from(every, (i) => 1 + ((i * 13) % 5)),
    }
    const single = (rows: number[]) => ({ rows, colour: null, shape: null, size: 1, name: null })
    for (const [sized, front, rows] of [
      [true, ['wax'], [103, 140]],
      [true, [], [120]],
      [false, ['film', 'wax'], []],
      [false, [], [159, 100]],
      [true, ['film'], []],
    ] as const) {
      const made = looks(
        {
          size: sized ? blankSize('homes') : null,
          marks: { ...DOCUMENT.marks, front: [...front] },
          singled_out: rows.length ? [single([...rows])] : [],
        },
        { colour: GROUPS, size: sized ? size : null },
        sized ? own : { ...own, size: null },
      )
      const layer = (i: number): number[] => [
        Number((rows as readonly number[]).includes(100 + i)),
        (front as readonly string[]).indexOf(GROUPS.categories[own.colour[i]] ?? '') + 1,
        sized ? -own.size[i] : 0,
        i,
      ]
      const wanted = [...every].sort((a, b) => {
        const [one, other] = [layer(a), layer(b)]
        return one.map((v, k) => v - other[k]).find(Boolean) ?? 0
      })
      expect([...made.order!]).toEqual(wanted)
    }
  })

  it('fade but for one category for a moment', () => {
    const made = looksOf(
      DOCUMENT,
      { ...ANSWER, colour: GROUPS },
      { ...MARKS, colour: Uint16Array.of(0, 1, 0, 1) },
      1e5,
      1,
    )
    const [wax, film] = [made.looks[made.of[0]], made.looks[made.of[1]]]
    expect(wax.opacity).toBeLessThan(film.opacity / 5)
  })

  it('have a colour, an outline and an opacity of their own', () => {
    const marks = {
      ...DOCUMENT.marks,
      colour: '#203040',
      opacity: 0.5,
      outline: { colour: '#405060', width: 2 },
    }
    const look = looks({ marks }, {}, {}).looks[0]
    expect([toHex(look.colour), look.opacity, look.halo]).toEqual(['#203040', 0.5, 2])
    expect(toHex(look.edge!)).toBe('#405060')
  })
})

describe('ramps of amounts', () => {
  const amounts: ColourAnswer = { ...GROUPS, scale: 'amount', low: 0, high: 100 }
  const ramp = (change: Partial<NonNullable<FigureDocument['colour']>>) =>
    rampOf({ ...DOCUMENT, colour: { ...blankColour('t'), ...change } }, amounts)

  it('run over the ends that were set, and turn about their middle', () => {
    expect(ramp({}).share(25)).toBe(0.25)
    expect(ramp({ low: 50 }).share(75)).toBe(0.5)
    expect(ramp({ middle: 20 }).share(20)).toBe(0.5)
    expect(ramp({ middle: 20 }).share(10)).toBe(0.25)
    expect(ramp({ middle: 20 }).share(60)).toBe(0.75)
  })

  it('have as many steps as were asked for, and may be reversed', () => {
    const steps = ramp({ steps: 5 }).steps.map(toHex)
    expect(new Set(steps).size).toBe(5)
    expect(ramp({ steps: 5, reversed: true }).steps.map(toHex)).toEqual([...steps].reverse())
  })

  it('fall evenly in lightness, from end to end or from the middle to both', () => {
    for (const name of ['dew', 'ember'] as const) {
      const light = stepsOf(RAMPS[name], 33).map(lightnessOf)
      light.slice(1).forEach((v, i) => expect(v).toBeLessThan(light[i] + 0.004))
    }
    const light = Array.from({ length: 33 }, (_, i) => lightnessOf(tide(i / 32)))
    for (let i = 1; i <= 16; i++) {
      expect(light[16 + i]).toBeLessThan(light[16 + i - 1] + 0.004)
      expect(light[16 - i]).toBeLessThan(light[16 - i + 1] + 0.004)
    }
  })
})

describe('names', () => {
  it('stand by the marks of their rows, and are not drawn where those are out of view', () => {
    const names = { rows: [11, 99, 12], texts: ['D5', 'gone', 'A2'] }
    const made = lay({ names: blankNames('station', 'all') }, { names })
    expect(made.names.map(({ row }) => row)).toEqual([11, 12])
    expect(read(texts(made, 'names'))).toEqual(['D5', 'A2'])
    const [x, y] = made.rowPlace(11)!
    expect(Math.abs(made.names[0].box.y + made.names[0].box.height / 2 - y)).toBeLessThan(30)
    expect(Math.abs(made.names[0].box.x - x)).toBeLessThan(60)
    expect(made.rowPlace(99)).toBeNull()
  })
})

describe('many marks', () => {
  it('are shaded where single ones cannot be told apart, unless it is switched off', () => {
    const count = 60_000
    const many: Partial<Marks> = {
      row: Uint32Array.from({ length: count }, (_, i) => i),
      x: Float64Array.from({ length: count }, (_, i) => 1 + (3 * i) / count),
      y: Float64Array.from({ length: count }, (_, i) => 10 + ((i * 7) % 30)),
      aside: new Uint8Array(count),
    }
    const density = (wanted: 'auto' | 'on' | 'off', marks: Partial<Marks>) =>
      marksOf(lay({ marks: { ...DOCUMENT.marks, density: wanted } }, {}, marks)).density
    expect(density('auto', many)).toBe(true)
    expect(density('off', many)).toBe(false)
    expect(density('auto', {})).toBe(false)
    expect(density('on', {})).toBe(true)
  })
})

describe('words round the figure', () => {
  it('take their room from the plot and nothing from each other', () => {
    const made = lay({ title: 'Dew', subtitle: 'Four valleys', caption: 'Lines with bands.' })
    const [title] = texts(made, 'title')
    const [subtitle] = texts(made, 'subtitle')
    const [caption] = texts(made, 'caption')
    expect(title.y).toBeLessThan(subtitle.y - subtitle.size)
    expect(subtitle.y).toBeLessThan(made.plot.y)
    expect(caption.y).toBeLessThan(610)
    const axis = Math.max(...texts(made, 'x-axis').map(({ y }) => y))
    expect(caption.y - caption.size).toBeGreaterThan(axis)
  })

  it('grow with the text size of the figure, and so do the axes', () => {
    const sizes = (scale: number) => {
      const made = lay({ title: 'Dew', type: { scale, parts: {} } })
      return [texts(made, 'title')[0].size, texts(made, 'x-axis')[0].size]
    }
    const [plain, large] = [sizes(1), sizes(2)]
    expect(large).toEqual(plain.map((size) => 2 * size))
  })

  it('stand on the paper that was chosen, in a frame where one is wanted', () => {
    const page = { ...DOCUMENT.page, background: '#fafbf0', frame: '#304050' }
    const { scene } = lay({ page })
    expect(toHex(scene.paper)).toBe('#fafbf0')
    const frame = scene.items.find(
      (item: Item): item is PathItem =>
        item.kind === 'path' && item.stroke !== undefined && toHex(item.stroke) === '#304050',
    )
    expect(frame!.closed).toBe(true)
  })
})

describe('a category on one figure', () => {
  const own = { colour: '#102030', shape: 'star' as const, size: 2 }
  const marks = { ...DOCUMENT.marks, each: { film: own }, front: ['wax'] }
  const coloured = { ...MARKS, colour: Uint16Array.of(0, 1, 0, 1) }

  it('has its own look, and no other has', () => {
    const { looks } = looksOf({ ...DOCUMENT, marks }, { ...ANSWER, colour: GROUPS }, coloured, 1e5)
    expect(looks[1]).toMatchObject({ colour: [16, 32, 48], shape: 'star', size: 12 })
    expect(looks[0]).toMatchObject({ shape: 'disc', size: 6 })
  })

  it('is drawn in front of the others, which keep their order', () => {
    const { order } = looksOf({ ...DOCUMENT, marks }, { ...ANSWER, colour: GROUPS }, coloured, 1e5)
    expect([...order!]).toEqual([1, 3, 0, 2])
  })

  it('stands in the legend where it was put', () => {
    const legend = { ...DOCUMENT.legend, order: ['film'] }
    const figure = {
      document: { ...DOCUMENT, legend },
      answer: { ...ANSWER, colour: { ...GROUPS, shown: [true, true] } },
      marks: coloured,
    }
    const { scene } = layoutFigure(figure, measure)
    const said = scene.items.filter((i): i is TextItem => i.kind === 'text' && i.part === 'legend')
    expect(said.map(({ runs }) => runs[0].text)).toEqual(['Coating', 'film', 'wax'])
  })
})

describe('letters in the place of markers', () => {
  it('stand on their marks; a row without text has none', () => {
    const figure = {
      document: { ...DOCUMENT, marks: { ...DOCUMENT.marks, text: 'coating' } },
      answer: { ...ANSWER, markers: ['w', 'f'] },
      marks: { ...MARKS, text: Uint16Array.of(0, 1, 65_535, 0) },
    }
    const made = layoutFigure(figure, measure)
    const letters = made.scene.items.filter(
      (i): i is TextItem => i.kind === 'text' && i.part === 'marks',
    )
    expect(letters.map(({ runs }) => runs[0].text)).toEqual(['w', 'f', 'w'])
    expect(letters[1].x).toBeCloseTo(made.marks.x[1])
    expect(made.scene.items.some(({ kind }) => kind === 'marks')).toBe(false)
  })
})

describe('the lettering of one part', () => {
  it('changes that part alone', () => {
    const lettering = { size: 2, face: 'mono' as const, weight: 600 as const, colour: '#112233' }
    const document = {
      ...DOCUMENT,
      title: 'Dew',
      type: { scale: 1, parts: { tick_labels: lettering } },
    }
    const { scene } = layoutFigure({ document, answer: ANSWER, marks: MARKS }, measure)
    const said = scene.items.filter((i): i is TextItem => i.kind === 'text')
    const ticks = said.filter(({ part, weight }) => part === 'x-axis' && weight === 600)
    expect(ticks.some(({ size, face }) => size === 24 && face === 'mono')).toBe(true)
    expect(said.find(({ part }) => part === 'title')).toMatchObject({ size: 15, face: 'sans' })
  })
})

const REPORT = {
  problem: null,
  group: null,
  equation: 'y = x',
  equation_note: '',
  readings: [],
  solutions: [],
} as unknown as Answer['trends'][number]['report']

describe('trends', () => {
  const line = (change: Partial<Answer['trends'][number]>): Answer['trends'][number] => ({
    trend: 0,
    family_label: 'moving average',
    group_code: null,
    group_value: null,
    report: { ...REPORT },
    curve: { x: [1, 2, 3, 4], y: [10, 20, 30, 40], bands: [] },
    carried: [],
    with_all: null,
    ...change,
  })
  const shown = (
    trend: Partial<FigureDocument['trends'][number]>,
    answer: Partial<Answer['trends'][number]>,
    more: Partial<FigureDocument> = {},
  ) => {
    const document = {
      ...DOCUMENT,
      trends: [{ ...blankTrend('straight', null), ...trend } as FigureDocument['trends'][number]],
      ...more,
    }
    return layoutFigure(
      { document, answer: { ...ANSWER, trends: [line(answer)] }, marks: MARKS },
      measure,
    )
  }
  const paths = (made: Layout) =>
    made.scene.items.filter((i): i is PathItem => i.kind === 'path' && i.part === 'trend-0')

  it('leave a gap open where there is no value', () => {
    const curve = { x: [1, 2, 3, 4, 5], y: [1, 2, null, 4, 5], bands: [] }
    expect(paths(shown({}, { curve })).map(({ points }) => points.length)).toEqual([4, 4])
  })

  it('are dashed where they are carried on, and the axis follows', () => {
    const carried = [{ x: [4, 8], y: [40, 80], bands: [] }]
    const made = shown({}, { carried })
    expect(paths(made).map(({ dash }) => dash!.length > 0)).toEqual([false, true])
    expect(made.x.domain[1]).toBeGreaterThan(8)
    expect(made.y.domain[1]).toBeGreaterThan(80)
  })

  it('have their own colour, width and dashes', () => {
    const [path] = paths(shown({ colour: '#102030', width: 4, dash: 'dotted' }, {}))
    expect(path).toMatchObject({ stroke: [16, 32, 48], width: 4 })
    expect(path.dash).toEqual([0.5, 8.8])
  })

  it('are shaded whatever their band is of', () => {
    for (const kind of ['confidence', 'whole line', 'prediction'] as const) {
      const band = { kind, level: 0.95, low: [9, 19, 29, 39], high: [11, 21, 31, 41] }
      const curve = { ...line({}).curve!, bands: [band] }
      const [drawn] = paths(shown({}, { curve })).filter(({ closed }) => closed)
      expect(drawn.fillOpacity).toBeGreaterThan(0.02)
      expect(drawn.fillOpacity).toBeLessThan(0.5)
    }
  })

  it('draw the widest of several bands first', () => {
    const band = (level: number, half: number) => ({
      kind: 'confidence' as const,
      level,
      low: [10, 20, 30, 40].map((v) => v - half),
      high: [10, 20, 30, 40].map((v) => v + half),
    })
    const curve = { ...line({}).curve!, bands: [band(0.9, 1), band(0.99, 3)] }
    const bands = paths(shown({}, { curve })).filter(({ closed }) => closed)
    const heights = bands.map(({ points }) => points[points.length - 1] - points[1])
    expect(heights[0]).toBeGreaterThan(heights[1])
  })

  it('show what was read off with lines to both axes and its words', () => {
    const reading = {
      x: 2,
      y: 20,
      mean_low: 18,
      mean_high: 22,
      new_low: null,
      new_high: null,
      carried_on: false,
      name: 'two',
      x_place: 2,
      y_place: 20,
    }
    const report = { ...line({}).report, readings: [reading], solutions: [] }
    const made = shown({ read_off: [{ at: 2, level: null, name: 'two', group: null }] }, { report })
    const part = made.scene.items.filter((i) => i.part === 'read-0-0')
    const words = part.filter((i): i is TextItem => i.kind === 'text')
    expect(words[0].runs[0].text).toBe('two: 20 at 2')
    const guide = part.find((i): i is PathItem => i.kind === 'path' && i.points.length === 6)!
    expect(guide.points[2]).toBeCloseTo(made.x.toPage(2))
    expect(guide.points[3]).toBeCloseTo(made.y.toPage(20))
  })

  it('have their readings beside their line where that is wanted', () => {
    const on = { on_figure: ['equation' as const] }
    const readings = { ...DOCUMENT.readings, place: 'lines' as const }
    const box = shown(on, {}, { readings }).scene.regions.find(({ part }) => part === 'readings')!
    const corner = shown(on, {}).scene.regions.find(({ part }) => part === 'readings')!
    expect(box.box.x).toBeGreaterThan(corner.box.x)
  })

  it('of several forms are told apart in the legend', () => {
    const document = {
      ...DOCUMENT,
      trends: [blankTrend('straight', null), blankTrend('local', null)],
    }
    const trends = [
      line({ family_label: 'straight line' }),
      line({ trend: 1, family_label: 'local regression' }),
    ]
    const made = layoutFigure({ document, answer: { ...ANSWER, trends }, marks: MARKS }, measure)
    const said = made.scene.items.filter(
      (i): i is TextItem => i.kind === 'text' && i.part === 'legend',
    )
    expect(said.map(({ runs }) => runs[0].text)).toEqual(['straight line', 'local regression'])
  })
})

describe('two variables without a trend', () => {
  it('have r on the figure where it is wanted', () => {
    const association = { r: 0.8, low: 0.7, high: 0.9, p_value: 0.01, n: 4, level: 0.95 }
    const document = {
      ...DOCUMENT,
      readings: { ...DOCUMENT.readings, association: ['r' as const, 'n' as const] },
    }
    const { scene } = layoutFigure(
      { document, answer: { ...ANSWER, association }, marks: MARKS },
      measure,
    )
    const said = scene.items.find((i): i is TextItem => i.kind === 'text' && i.part === 'readings')!
    expect(said.runs[0].text).toBe('r = 0.80,\u2002n = 4')
  })
})
