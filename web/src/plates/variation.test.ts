import { describe, expect, it } from 'vitest'
import { blankDocument, blankPlate, blankTrend } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary, Varied } from '@/api/types'
import { NotVaried, variedDocument, variedWords } from './variation'
import { choicesOf, thingsOf } from './vary-figure'

const FIGURE: FigureDocument = {
  ...blankDocument('t', 'humidity', 'yield'),
  trends: [blankTrend('straight', 'valley'), blankTrend('moving-average', null)],
}

const variable = (name: string, kind: VariableSummary['kind']) =>
  ({ name, label: name, kind, distinct: 4 }) as VariableSummary
const VARIABLES = [
  variable('humidity', 'number'),
  variable('yield', 'number'),
  variable('night', 'date'),
  variable('valley', 'category'),
  variable('station', 'text'),
]

const ONLY: Varied = { thing: 'category', variable: 'valley', value: 'Corrie' }

describe('a figure with one thing changed', () => {
  it('is as it was where nothing is', () => {
    expect(variedDocument(FIGURE, null)).toEqual(FIGURE)
  })

  it('has all its intervals and bands at the level', () => {
    const made = variedDocument(FIGURE, { thing: 'level', level: 0.9 })
    expect(made.trends.map(({ level }) => level)).toEqual([0.9, 0.9])
    expect(made.trends[0].bands).toEqual([{ kind: 'confidence', level: 0.9 }])
    expect(FIGURE.trends[0].level).toBe(0.95)
  })

  it('has the rows of the category alone, beside those that it kept before', () => {
    const kept = {
      join: 'and' as const,
      conditions: [
        { variable: 'wind', test: 'between' as const, low: null, high: 5, values: [], text: '' },
      ],
    }
    const made = variedDocument({ ...FIGURE, rows: kept }, ONLY)
    expect(made.rows!.conditions.map(({ variable: name }) => name)).toEqual(['wind', 'valley'])
    expect(made.rows!.conditions[1].values).toEqual(['Corrie'])
    expect(kept.conditions).toHaveLength(1)
  })

  it('says so where its rows meet any of several conditions', () => {
    const condition = {
      variable: 'wind',
      test: 'present' as const,
      low: null,
      high: null,
      values: [],
      text: '',
    }
    const either = { join: 'or' as const, conditions: [condition, condition] }
    expect(() => variedDocument({ ...FIGURE, rows: either }, ONLY)).toThrow(NotVaried)
    const one = { join: 'or' as const, conditions: [condition] }
    expect(variedDocument({ ...FIGURE, rows: one }, ONLY).rows!.join).toBe('and')
  })

  it('has another form of trend, with a band where the form has one', () => {
    const settings = { degree: 3 }
    const made = variedDocument(FIGURE, { thing: 'form', family: 'polynomial', settings })
    expect(made.trends.map(({ family }) => family)).toEqual(['polynomial', 'polynomial'])
    expect(made.trends.map(({ bands }) => bands.length)).toEqual([1, 1])
    expect(made.trends[0].settings).toEqual({ degree: 3 })
  })

  it('has another variable, whose axis hugs its own data', () => {
    const axes = {
      ...FIGURE.axes,
      x: { ...FIGURE.axes.x, low: 50, high: 100, title: 'Humidity here' },
    }
    const made = variedDocument({ ...FIGURE, axes }, { thing: 'x', variable: 'wind' })
    expect(made.x).toBe('wind')
    expect(made.axes.x).toMatchObject({ low: null, high: null, title: null })
    expect(variedDocument(FIGURE, { thing: 'y', variable: 'wind' }).y).toEqual(['wind'])
  })
})

describe('what is said of the change', () => {
  const said = (varied: Varied | null) =>
    variedWords(
      varied,
      (name) => `the ${name}`,
      (_, value) => `${value} Glen`,
    ).replaceAll('\u00a0', ' ')

  it('is the thing itself', () => {
    expect(said({ thing: 'level', level: 0.975 })).toBe('97.5 % band')
    expect(said(ONLY)).toBe('Corrie Glen')
    expect(said({ thing: 'form', family: 'spline', settings: { penalty: null } })).toBe(
      'smoothing spline',
    )
    expect(said({ thing: 'y', variable: 'wind' })).toBe('the wind')
    expect(said(null)).toBe('')
  })
})

describe('a plate that is made', () => {
  it('offers what a figure can vary in', () => {
    expect(thingsOf(FIGURE, VARIABLES)).toEqual(['level', 'form', 'category', 'x', 'y'])
    const plain = { ...FIGURE, trends: [] }
    expect(thingsOf(plain, VARIABLES.slice(0, 2))).toEqual(['x', 'y'])
    expect(thingsOf({ ...plain, kind: 'scatterplot matrix' }, VARIABLES)).toEqual(['category'])
  })

  it('starts with three levels, every category, and the first variables', () => {
    const start = (thing: Varied['thing']) =>
      choicesOf(thing, VARIABLES, 'valley', ['Argill', 'Corrie'])
        .filter((choice) => choice.start)
        .map(({ label }) => label)
    expect(start('level')).toEqual(['90 %', '95 %', '99 %'])
    expect(start('category')).toEqual(['Argill', 'Corrie'])
    expect(start('form')).toHaveLength(3)
    expect(start('x')).toEqual(['humidity', 'yield', 'night'])
  })

  it('stands in rows about as many as columns, with shared axes where it is one figure', () => {
    const of = (count: number, one = true) =>
      blankPlate(
        Array.from({ length: count }, () => ({ figure: 'f', varied: null, heading: null })),
        one,
      )
    expect([1, 2, 3, 4, 6, 9, 12].map((count) => of(count).columns)).toEqual([1, 2, 3, 2, 3, 3, 4])
    expect(of(4).shared).toBe('both')
    expect(of(4, false).shared).toBe('none')
    expect(of(12).page.width).toBeLessThanOrEqual(1100)
  })
})
