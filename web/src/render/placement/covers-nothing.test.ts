/** Whatever the figure, what finds its own place covers no mark, no line and no other words. */
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  blankColour,
  blankDocument,
  blankNames,
  blankReference,
  blankSize,
  blankTrend,
} from '@/figure-model/blank'
import type { Answer, ColourAnswer, FigureDocument, Marks } from '@/api/types'
import { layoutFigure, type Layout } from '@/render/layout/figure'
import type { Box, Item, TextItem } from '@/render/scene'
import { axisAnswer, blankAnswer, measure, NO_MARKS, words } from '@/render/testing'

/** Pages from 50 × 40 mm to a poster, with their text as the venues have it. */
const PAGES = [
  { width: 142, height: 113, scale: 0.4 },
  { width: 252, height: 214, scale: 0.6 },
  { width: 720, height: 610, scale: 1 },
  { width: 960, height: 540, scale: 1.5 },
  { width: 2384, height: 1684, scale: 2.6 },
]

interface Wish {
  page: (typeof PAGES)[number]
  n: number
  groups: number
  label: string
  title: string
  seed: number
  sized: boolean
  named: boolean
  fitted: boolean
  readOff: boolean
  told: boolean
  limits: boolean
  spread: 'even' | 'corner' | 'line'
}

const wishes: fc.Arbitrary<Wish> = fc.record({
  page: fc.constantFrom(...PAGES),
  n: fc.oneof(fc.integer({ min: 1, max: 60 }), fc.integer({ min: 61, max: 5000 })),
  groups: fc.integer({ min: 1, max: 24 }),
  label: fc.constantFrom('A', 'Valley', 'Upper meadow behind the weir'),
  title: fc.constantFrom(
    '',
    'Dew',
    'Dew that was gathered at dawn on every slope of the valley '.repeat(3),
  ),
  seed: fc.integer({ min: 1, max: 2 ** 30 }),
  sized: fc.boolean(),
  named: fc.boolean(),
  fitted: fc.boolean(),
  readOff: fc.boolean(),
  told: fc.boolean(),
  limits: fc.boolean(),
  spread: fc.constantFrom('even' as const, 'corner' as const, 'line' as const),
})

function random(seed: number): () => number {
  return () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
}

function figureOf(wish: Wish): { document: FigureDocument; answer: Answer; marks: Marks } {
  const { page, n, groups, label, spread } = wish
  const next = random(wish.seed)
  const at = (): [number, number] => {
    const [a, b] = [next(), next()]
    if (spread === 'even') return [a, b]
    return spread === 'corner' ? [a ** 4, b ** 4] : [a, 0.9 * a + 0.1 * b]
  }
  const places = Array.from({ length: n }, at)
  const names = Array.from({ length: groups }, (_, i) => `${label} ${i + 1}`)
  const colour: ColourAnswer = {
    variable: words('Valley'),
    scale: 'category',
    categories: names,
    values: names,
    turns: names.map((_, i) => i),
    colours: names.map(() => null),
    shown: names.map(() => true),
    low: null,
    high: null,
    missing: 0,
  }
  const blank = blankDocument('t', 'a', 'b')
  const document: FigureDocument = {
    ...blank,
    // Nobody writes three sentences over a picture of 50 mm.
    title: page.width < 200 ? wish.title.slice(0, 30) : wish.title,
    page: { ...blank.page, width: page.width, height: page.height },
    type: { ...blank.type, scale: page.scale },
    colour: groups > 1 ? blankColour('valley') : null,
    size: wish.sized ? { ...blankSize('area'), largest: 24 * page.scale } : null,
    names: wish.named ? { ...blankNames('who', 'all'), size: 9 } : null,
    references: wish.limits
      ? (['x', 'y'] as const).map((axis) => ({
          ...blankReference(),
          axis,
          at: 'value' as const,
          value: 0.6,
          label: 'the limit',
        }))
      : [],
    trends: wish.fitted
      ? [
          {
            ...blankTrend('straight', null),
            on_figure: ['equation', 'r_squared'],
            read_off: wish.readOff ? [{ at: 0.5, level: null, name: null, group: null }] : [],
          },
        ]
      : [],
  }
  const trends = wish.fitted
    ? Array.from({ length: groups }, (_, i) => {
        const rise = i / groups
        const report = {
          problem: null,
          group: groups > 1 ? names[i] : null,
          equation: `b = ${rise.toFixed(3)} + 0.25 a`,
          equation_note: '',
          r_squared: 0.5,
          n: 20,
          readings:
            wish.readOff && i === 0
              ? [{ x: 0.5, y: 0.3, x_place: 0.5, y_place: 0.3, mean_low: 0.28, mean_high: 0.32 }]
              : [],
          solutions: [],
        }
        return {
          trend: 0,
          family_label: 'straight line',
          // Lines that colour does not tell apart have their names beside them.
          group_code: wish.told ? i : null,
          group_value: names[i],
          report,
          curve: {
            x: [0, 0.5, 1],
            y: [rise, rise + 0.12, rise + 0.25],
            bands: [
              {
                kind: 'confidence',
                level: 0.95,
                low: [rise - 0.05, rise + 0.09, rise + 0.2],
                high: [rise + 0.05, rise + 0.15, rise + 0.3],
              },
            ],
          },
          carried: [],
          with_all: null,
        }
      })
    : []
  const answer = {
    ...blankAnswer(axisAnswer('Wetness', 0, 1), axisAnswer('Yield', 0, 1), n),
    colour: groups > 1 ? colour : null,
    size: wish.sized ? { variable: words('Area'), low: 1, high: 100, non_positive: 0 } : null,
    names: wish.named
      ? {
          rows: places.slice(0, 60).map((_, i) => i),
          texts: places.slice(0, 60).map((_, i) => `site ${i}`),
        }
      : null,
    trends,
  } as unknown as Answer
  return {
    document,
    answer,
    marks: {
      row: Uint32Array.from(places.keys()),
      x: Float64Array.from(places, ([x]) => x),
      y: Float64Array.from(places, ([, y]) => y),
      aside: new Uint8Array(n),
      ...NO_MARKS,
      colour: groups > 1 ? Uint16Array.from(places, (_, i) => i % groups) : null,
      size: wish.sized ? Float64Array.from(places, () => 1 + 99 * next() ** 3) : null,
    } as Marks,
  }
}

/** A little less than what the letters fill, worked out from how they are measured here. */
function inked(item: TextItem): Box {
  const width = item.runs.reduce(
    (sum, { text, place }) =>
      sum + measure(text, item.size * (place === 'line' ? 1 : 0.7), 400, 'sans'),
    0,
  )
  const left =
    item.anchor === 'end' ? item.x - width : item.anchor === 'middle' ? item.x - width / 2 : item.x
  return { x: left, y: item.y - 0.7 * item.size, width, height: 0.72 * item.size }
}

const isAutomatic = ({ kind, part }: Item): boolean =>
  kind === 'text' &&
  (part === 'legend' ||
    part === 'readings' ||
    part === 'names' ||
    /^(read|trend|reference)-/.test(part))

/** No mark here is wider. */
const REACH = 40

const distance = ({ x, y, width, height }: Box, px: number, py: number): number =>
  Math.hypot(Math.max(x - px, 0, px - x - width), Math.max(y - py, 0, py - y - height))

/** Whether a segment comes into a box: by the shares of it that lie between the box's sides. */
function crosses({ x, y, width, height }: Box, [x0, y0, x1, y1]: number[]): boolean {
  let [from, to] = [0, 1]
  for (const [start, step, low, high] of [
    [x0, x1 - x0, x, x + width],
    [y0, y1 - y0, y, y + height],
  ]) {
    if (step === 0) {
      if (start <= low || start >= high) return false
      continue
    }
    const ends = [(low - start) / step, (high - start) / step]
    from = Math.max(from, Math.min(...ends))
    to = Math.min(to, Math.max(...ends))
  }
  return from < to
}

function coveredBy(layout: Layout): string[] {
  const { items } = layout.scene
  const parts = items.filter(isAutomatic) as TextItem[]
  const boxes = parts.map(inked)
  const faults: string[] = []
  const { x, y } = layout.marks
  boxes.forEach((box, i) => {
    const who = `${parts[i].part} “${parts[i].runs.map(({ text }) => text).join('')}”`
    for (let k = 0; k < x.length; k++) {
      // Most are far off: their distance is not worked out.
      if (Math.abs(x[k] - box.x - box.width / 2) > box.width / 2 + REACH) continue
      if (distance(box, x[k], y[k]) < layout.radius(k)) faults.push(`${who} covers mark ${k}`)
    }
    for (const item of items) {
      if (item.kind !== 'path' || !item.part.startsWith('trend-')) continue
      for (let p = 0; p + 3 < item.points.length; p += 2)
        if (crosses(box, [...item.points.subarray(p, p + 4)])) {
          faults.push(`${who} covers ${item.part}`)
          break
        }
    }
    boxes.slice(0, i).forEach((other, k) => {
      const apart =
        box.x >= other.x + other.width ||
        other.x >= box.x + box.width ||
        box.y >= other.y + other.height ||
        other.y >= box.y + box.height
      if (!apart) faults.push(`${who} covers ${parts[k].part}`)
    })
  })
  return faults
}

describe('what finds its own place', () => {
  it('covers no mark, no line and no other words', () => {
    fc.assert(
      fc.property(wishes, (wish) => {
        expect(coveredBy(layoutFigure(figureOf(wish), measure))).toEqual([])
      }),
      { numRuns: 40, seed: 20310401 },
    )
  })

  it('leaves most of the page to the plot', () => {
    fc.assert(
      fc.property(wishes, (wish) => {
        const { plot, scene } = layoutFigure(figureOf({ ...wish, fitted: false }), measure)
        // Of 50 mm words of a readable size leave less.
        const [across, up] = scene.width < 200 ? [0.38, 0.15] : [0.52, 0.33]
        expect(plot.width / scene.width).toBeGreaterThan(across)
        expect(plot.height / scene.height).toBeGreaterThan(up)
      }),
      { numRuns: 40, seed: 20310402 },
    )
  })

  it('stays on the page', () => {
    fc.assert(
      fc.property(wishes, (wish) => {
        const { scene } = layoutFigure(figureOf(wish), measure)
        for (const item of scene.items) {
          if (!isAutomatic(item)) continue
          const box = inked(item as TextItem)
          expect(box.x).toBeGreaterThanOrEqual(0)
          expect(box.y).toBeGreaterThanOrEqual(0)
          expect(box.x + box.width).toBeLessThanOrEqual(scene.width)
          expect(box.y + box.height).toBeLessThanOrEqual(scene.height)
        }
      }),
      { numRuns: 30, seed: 20310403 },
    )
  })
})
