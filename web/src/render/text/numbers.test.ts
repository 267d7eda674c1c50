import { describe, expect, it } from 'vitest'
import { opacityFor } from '@/render/marks/crowding'
import { levelText, pText, rSquaredText, shareText } from './numbers'

describe('readings in short', () => {
  it('give shares two decimals, or as many as keep them from 1', () => {
    expect(shareText(0.634)).toBe('0.63')
    expect(shareText(-0.797)).toBe('−0.80')
    expect(shareText(0.99999374)).toBe('0.99999')
    expect(shareText(0.00032)).toBe('0.0003')
    expect(shareText(0)).toBe('0.00')
    expect(shareText(1)).toBe('1.00')
  })

  it('give R² on the scale of the fit first, and say which it is', () => {
    expect(rSquaredText({ r_squared: 0.5 })).toBe('R² = 0.50')
    expect(rSquaredText({ r_squared: null })).toBe('')
    expect(rSquaredText({ r_squared: -0.14, r_squared_log: 0.93 })).toBe(
      'R² = 0.93 of ln\u00a0y, −0.14 of y',
    )
  })

  it('never show p as zero', () => {
    expect([0, 0.00012, 0.034, 0.5].map(pText)).toEqual([
      '< 0.0001',
      '= 0.0001',
      '= 0.034',
      '= 0.50',
    ])
  })

  it('give levels in percent', () => {
    expect([0.95, 0.999, 0.975].map(levelText)).toEqual(['95\u00a0%', '99.9\u00a0%', '97.5\u00a0%'])
  })
})

describe('opacity', () => {
  it('falls as the figure gets crowded, within bounds', () => {
    const at = [10, 1000, 10_000, 1_000_000].map((n) => opacityFor(n, 6, 300_000))
    expect(at[0]).toBe(0.85)
    for (let i = 1; i < at.length; i++) expect(at[i]).toBeLessThan(at[i - 1])
    expect(at[3]).toBe(0.06)
  })
})
