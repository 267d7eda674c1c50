import { describe, expect, it } from 'vitest'
import {
  dateText,
  dateTicks,
  logTicks,
  numberTicks,
  roundStep,
  tickLabel,
  valueMarkup,
  valueText,
} from './ticks'

const labels = (low: number, high: number, count: number) =>
  numberTicks([low, high], count).map(({ label }) => label)

const day = (iso: string) => Date.parse(iso) / 86_400_000
const dates = (from: string, to: string, count = 6) =>
  dateTicks([day(from), day(to)], count).map(({ label }) => label)

describe('ticks of numbers', () => {
  it('stand at round values inside the axis', () => {
    expect(labels(17, 498, 5)).toEqual(['100', '200', '300', '400'])
    expect(labels(0, 1, 5)).toEqual(['0.0', '0.2', '0.4', '0.6', '0.8', '1.0'])
    expect(labels(-1, 1, 4)).toEqual(['−1.0', '−0.5', '0.0', '0.5', '1.0'])
  })

  it('carry no more digits than their step needs', () => {
    expect(labels(0.123, 0.127, 4)).toEqual(['0.123', '0.124', '0.125', '0.126', '0.127'])
    expect(tickLabel(0.1 + 0.2, 0.1)).toBe('0.3')
  })

  it('group thousands and raise large powers', () => {
    expect(tickLabel(12_000, 2000)).toBe('12\u202f000')
    expect(tickLabel(4000, 1000)).toBe('4000')
    expect(tickLabel(3e9, 1e9)).toBe('3\u00a0×\u00a010^{9}')
    expect(tickLabel(-2.5e-7, 5e-8)).toBe('−2.5\u00a0×\u00a010^{−7}')
    expect(tickLabel(0, 1e9)).toBe('0')
  })

  it('are written alike on one axis', () => {
    expect(labels(0, 3e7, 6)).toEqual([
      '0',
      ...['0.5', '1.0', '1.5', '2.0', '2.5', '3.0'].map((m) => `${m}\u00a0×\u00a010^{7}`),
    ])
    const powers = logTicks([1, 1e8], 10, 9).map(({ label }) => label)
    expect(powers.every((label) => label.startsWith('10^{'))).toBe(true)
  })

  it.each([1e-9, 0.02, 1, 37, 1e12])('come at steps of 1, 2 or 5 for a span of %d', (span) => {
    const step = roundStep(span, 5)
    const lead = step / 10 ** Math.floor(Math.log10(step) + 1e-9)
    expect([1, 2, 5].some((n) => Math.abs(lead - n) < 1e-6)).toBe(true)
    expect(span / step).toBeGreaterThan(2.4)
    expect(span / step).toBeLessThan(10)
  })
})

describe('ticks of dates', () => {
  it('name the month, and the year where it changes', () => {
    expect(dates('2030-03-01', '2031-05-05', 5)).toEqual([
      'Apr 2030',
      'Jul',
      'Oct',
      'Jan 2031',
      'Apr',
    ])
  })

  it('name years alone over decades', () => {
    expect(dates('1990-06-01', '2031-01-01', 4)).toEqual(['2000', '2010', '2020', '2030'])
  })

  it('name days and hours where that is the step', () => {
    expect(dates('2031-04-01', '2031-04-08', 4)[0]).toBe('1 Apr 2031')
    expect(dates('2031-04-01T00:00:00Z', '2031-04-01T12:00:00Z', 4)).toContain('06:00')
  })
})

describe('values in full', () => {
  it('keep their digits and a true minus sign', () => {
    expect(valueText(-4.25)).toBe('−4.25')
    expect(valueText(0.1 + 0.2)).toBe('0.3')
    expect(valueText(123456.78)).toBe('123456.78')
    expect(valueText(2.5e-7)).toBe('2.5 × 10⁻⁷')
    expect(valueText(-3e12)).toBe('−3 × 10¹²')
    expect(valueMarkup(2.5e-7)).toBe('2.5 × 10^{−7}')
  })

  it('are dates where the axis is one', () => {
    expect(dateText(day('2031-04-01'))).toBe('2031-04-01')
    expect(dateText(day('2031-04-01') + 0.5)).toBe('2031-04-01 12:00')
  })
})

describe('ticks of a logarithmic axis', () => {
  const at = (low: number, high: number) => logTicks([low, high], 10, 5).map(({ value }) => value)

  it('are 1, 2 and 5 where there are few powers, and powers alone where there are many', () => {
    expect(at(1, 100)).toEqual([1, 2, 5, 10, 20, 50, 100])
    expect(at(3, 60)).toEqual([5, 10, 20, 50])
    expect(at(0.5, 20_000)).toEqual([1, 10, 100, 1000, 10_000])
  })

  it('are even steps where hardly one of these is in view', () => {
    expect(at(60, 90)).toEqual([60, 65, 70, 75, 80, 85, 90])
  })
})

describe('a smallest step', () => {
  it('keeps ticks to whole numbers', () => {
    expect(numberTicks([0, 2], 8, 1).map(({ label }) => label)).toEqual(['0', '1', '2'])
    expect(numberTicks([0, 200], 4, 1).map(({ value }) => value)).toEqual([0, 50, 100, 150, 200])
  })
})
