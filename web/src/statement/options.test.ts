import { describe, expect, it } from 'vitest'
import { blankDocument, blankMatrix, blankTrend } from '@/api/blank'
import { FAMILIES, familyLabel } from '@/model/families'
import { bandLabel, regionLabel } from './options'
import { sentenceOf } from '@/kinds'

const look = () => null

describe('the words of trends', () => {
  it('name every family, and one that is unknown by itself', () => {
    expect(familyLabel('s-curve')).toBe('S-curve')
    expect(familyLabel('wavy')).toBe('wavy')
    expect(new Set(FAMILIES.map(({ label }) => label)).size).toBe(FAMILIES.length)
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

  it('make the sentence of a figure', () => {
    const document = {
      ...blankDocument('t', 'dose', 'shed'),
      trends: [{ ...blankTrend('s-curve', 'coating'), bands: [] }],
    }
    expect(sentenceOf(document, look)).toBe(
      'shed against dose · trend: S-curve for each coating with no band',
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
