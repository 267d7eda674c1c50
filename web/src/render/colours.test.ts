import { describe, expect, it } from 'vitest'
import { CATEGORIES, dew, fromHex, lightnessOf, PAPER, stepsOf, toHex } from './colours'

function luminance(hex: string): number {
  const [r, g, b] = fromHex(hex).map((v) => {
    const s = v / 255
    return s <= 0.04045 ? s / 12.92 : ((s + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}

describe('colours', () => {
  it('of amounts fall in lightness evenly from end to end', () => {
    const steps = stepsOf(dew).map(lightnessOf)
    const falls = steps.slice(1).map((step, i) => steps[i] - step)
    expect(Math.min(...falls)).toBeGreaterThan(0)
    const mean = (steps[0] - steps[steps.length - 1]) / falls.length
    for (const fall of falls) expect(Math.abs(fall - mean)).toBeLessThan(0.006)
  })

  it.each(CATEGORIES.map(toHex))('%s stands out from paper at 3:1 or more', (hex) => {
    expect(1.05 / (luminance(hex) + 0.05)).toBeGreaterThanOrEqual(2.99)
  })

  it('survive the way to hex and back', () => {
    for (const colour of [...CATEGORIES, PAPER]) expect(fromHex(toHex(colour))).toEqual(colour)
  })
})
