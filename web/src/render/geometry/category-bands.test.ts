import { describe, expect, it } from 'vitest'
import { heightAt, lanesOf, stacked, zonesOf } from './category-bands'

describe('lanes', () => {
  it('lie side by side and fill their row, forwards and backwards', () => {
    const lanes = lanesOf(4, [100, 500])
    expect(lanes.map(({ from, to }) => [from, to])).toEqual([
      [100, 200],
      [200, 300],
      [300, 400],
      [400, 500],
    ])
    expect(lanes[1].at(0.5)).toBe(250)
    expect(lanesOf(2, [500, 100])[0].at(0.25)).toBe(450)
  })

  it('give what stands in them room that nothing else has', () => {
    for (const strip of ['wide', 'narrow'] as const) {
      const zones = zonesOf(true, strip)
      expect(zones.strip![1]).toBeLessThan(zones.shape![0])
    }
    expect(zonesOf(false, 'wide').shape).toBeNull()
    expect(zonesOf(true, 'none').strip).toBeNull()
  })

  it('stack marks that share a place about the middle, apart by their size', () => {
    const offsets = stacked([50, 50.2, 49.9, 80], 6, 60)
    expect([...offsets].slice(0, 3).sort((a, b) => a - b)).toEqual([-0.1, 0, 0.1])
    expect(offsets[3]).toBe(0)
    // More than there is room for are pressed together, and none leaves its lane.
    const many = stacked(new Array<number>(100).fill(5), 6, 60)
    expect(Math.max(...many)).toBeCloseTo(0.5)
    expect(Math.min(...many)).toBeCloseTo(-0.5)
  })

  it('know how high a curve is between its places', () => {
    expect(heightAt([0, 1, 2], [0, 4, 2], 1.5)).toBe(3)
    expect(heightAt([0, 1, 2], [0, 4, 2], 2.5)).toBe(0)
    expect(heightAt([], [], 1)).toBe(0)
  })
})
