import { describe, expect, it } from 'vitest'
import { valueText } from '@/render/geometry/ticks'
import { typedBand } from '@/figure-model/statement/options'
import { articleOf } from '@/figure-model/statement/parts'
import { parsePlace } from '@/figure-model/parse'

describe('what people type', () => {
  it.each([
    ['12.5', 12.5],
    ['12,5', 12.5],
    ['−3', -3],
    ['1 000', 1000],
    ['1e3', 1000],
    ['soon', NaN],
    ['', 0],
  ])('“%s” is the number %d', (text, value) => {
    expect(parsePlace(text, false)).toBe(value)
  })

  it('dates are ISO dates, with a time or without', () => {
    expect(parsePlace('1970-01-11', true)).toBe(10)
    expect(parsePlace('1970-01-02 12:00', true)).toBe(1.5)
    expect(parsePlace('11 January', true)).toBeNaN()
    expect(parsePlace('2031-13-45', true)).toBeNaN()
  })

  it('every number that a field shows is read back as itself', () => {
    for (const value of [3e9, -2.5e-7, 1.25e-300, 42, -0.5, 12_345_600])
      expect(parsePlace(valueText(value), false)).toBe(value)
  })

  it('levels are percent or shares, and nothing outside the offer', () => {
    expect(typedBand('97.5')?.value).toEqual([{ kind: 'confidence', level: 0.975 }])
    expect(typedBand('0.8')?.label).toBe('80\u00a0% band')
    expect(typedBand('90 pred')?.label).toBe('90\u00a0% prediction band')
    expect(typedBand('90, 95, 99')?.label).toBe('90, 95 and 99\u00a0% bands')
    expect(typedBand('90 20')).toBeNull()
    expect(typedBand('120')).toBeNull()
    expect(typedBand('wide')).toBeNull()
  })

  it('bands take the right article', () => {
    const bands = ['80 % band', '95 % band', 'no band', '90 and 95 % bands']
    expect(bands.map(articleOf)).toEqual(['an', 'a', '', ''])
  })
})
