import { describe, expect, it } from 'vitest'
import { blankDocument, blankMatrix, blankTrend, setFamily } from '@/figure-model/blank'
import { FAMILIES, familyLabel, offeredFamilies, trendLabel } from '@/figure-model/families'
import { bandLabel, regionLabel } from './options'
import { sentenceOf } from '@/kinds'

const look = () => null

describe('the words of trends', () => {
  it('name every family, and one that is unknown by itself', () => {
    expect(familyLabel('s-curve')).toBe('logistic S-curve')
    expect(familyLabel('wavy')).toBe('wavy')
    expect(new Set(FAMILIES.map(({ label }) => label)).size).toBe(FAMILIES.length)
  })

  it('say what was set where the family alone says too little', () => {
    const quantile = { ...blankTrend('quantile', null), settings: { quantile: 0.9, bend: 1 } }
    expect(trendLabel(quantile as never)).toBe('90\u00a0% quantile line')
    const typed = { family: 'formula', settings: { formula: 'a * x^b', known: '' } }
    expect(trendLabel(typed as never)).toBe('a * x^b')
    expect(trendLabel(blankTrend('straight', null))).toBe('straight line')
  })

  it('offer a line for error bars where both stand, or where it stands already', () => {
    const bare = blankDocument('t', 'dose', 'shed')
    const names = (document: typeof bare): string[] =>
      offeredFamilies(document).map(({ name }) => name)
    const bar = { kind: 'fixed', below: null, above: null, amount: 1, cap: 6, width: 1 } as const
    expect(names(bare)).not.toContain('errors-in-variables')
    expect(names({ ...bare, error_bars: { x: bar, y: null } })).not.toContain('errors-in-variables')
    expect(names({ ...bare, error_bars: { x: bar, y: bar } })).toContain('errors-in-variables')
    expect(names({ ...bare, trends: [blankTrend('errors-in-variables', null)] })).toContain(
      'errors-in-variables',
    )
  })

  it('say bands of both kinds in one breath', () => {
    expect(
      bandLabel([
        { kind: 'confidence', level: 0.9 },
        { kind: 'confidence', level: 0.99 },
        { kind: 'prediction', level: 0.95 },
      ]),
    ).toBe('90 and 99\u00a0% bands and 95\u00a0% prediction band')
    expect(bandLabel([])).toBe('no band')
  })

  it('say that lines of groups share a slope', () => {
    const trend = { ...blankTrend('straight', 'coating'), slopes: 'common' as const }
    const document = { ...blankDocument('t', 'dose', 'shed'), trends: [trend] }
    expect(sentenceOf(document, look)).toBe(
      'shed against dose · trend: straight line for each coating, with a common slope and a 95\u00a0% band',
    )
    setFamily(trend, 'spline')
    expect(trend.slopes).toBe('own')
  })

  it('make the sentence of a figure', () => {
    const document = {
      ...blankDocument('t', 'dose', 'shed'),
      trends: [{ ...blankTrend('s-curve', 'coating'), bands: [] }],
    }
    expect(sentenceOf(document, look)).toBe(
      'shed against dose · trend: logistic S-curve for each coating with no band',
    )
  })
})

describe('the words of a matrix', () => {
  const matrix = { ...blankMatrix(['yield', 'humidity', 'wind']), below: 'trend' as const }

  it('say what each region shows', () => {
    expect(regionLabel(matrix, 'below')).toBe('points with a straight line')
    expect(regionLabel(matrix, 'above')).toBe('r')
  })

  it('make its sentence', () => {
    const document = {
      ...blankDocument('t', 'humidity', 'yield'),
      kind: 'scatterplot matrix' as const,
      matrix,
    }
    expect(sentenceOf(document, look)).toBe(
      'yield, humidity and wind against each other · below: points with a straight line · above: r · diagonal: histogram',
    )
  })
})
