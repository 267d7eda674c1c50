import { describe, expect, it } from 'vitest'
import { measure } from '@/render/testing'
import { parseRuns, widthOf, wrap, wrapBalanced, type Hand } from './text'

const HAND: Hand = { size: 10, weight: 400, face: 'sans' }
const plain = (text: string) => parseRuns(text).map(({ text: t, place }) => [t, place])

describe('words on a figure', () => {
  it('raise and lower what is marked', () => {
    expect(plain('mL/m^2')).toEqual([
      ['mL/m', 'line'],
      ['2', 'raised'],
    ])
    expect(plain('10^{−5} of x_{1}')).toEqual([
      ['10', 'line'],
      ['−5', 'raised'],
      [' of x', 'line'],
      ['1', 'lowered'],
    ])
  })

  it('leave other marks alone', () => {
    expect(plain('a ^ b _ c')).toEqual([['a ^ b _ c', 'line']])
    expect(plain('')).toEqual([])
  })

  it('measure raised text smaller', () => {
    expect(widthOf(parseRuns('ab^cd'), HAND, measure)).toBeCloseTo(2 * 5 + 2 * 3.5)
  })

  it('are balanced over no more lines than they need', () => {
    const text = 'every slope of the valley was dry at dawn but for one'
    const [plain, balanced] = [wrap, wrapBalanced].map((by) => by(text, 200, HAND, measure))
    expect(balanced).toHaveLength(plain.length)
    const spread = (lines: ReturnType<typeof wrap>): number => {
      const widths = lines.map((runs) => widthOf(runs, HAND, measure))
      return Math.max(...widths) - Math.min(...widths)
    }
    expect(spread(balanced)).toBeLessThan(spread(plain))
    const read = (lines: ReturnType<typeof wrap>) => lines.map(([run]) => run.text).join(' ')
    expect(read(balanced)).toBe(text)
  })

  it('wrap between words, never inside one', () => {
    const lines = wrap('one two three incomprehensibilities', 50, HAND, measure)
    expect(lines.map((runs) => runs.map(({ text }) => text).join(''))).toEqual([
      'one two',
      'three',
      'incomprehensibilities',
    ])
  })
})

describe('Greek letters by name', () => {
  it('stand for themselves, small and capital, and other names are left alone', () => {
    const read = (text: string) => parseRuns(text).map((run) => run.text)
    expect(read('&alpha; &mu;m &omega;')).toEqual(['α μm ω'])
    expect(read('&Delta;T_{&rho;}')).toEqual(['ΔT', 'ρ'])
    expect(read('wind & rain &nothing;')).toEqual(['wind & rain &nothing;'])
  })
})
