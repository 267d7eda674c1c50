import { describe, expect, it } from 'vitest'
import { hugging, isUsable, linearScale, moved, zoomed } from './scale'

describe('scales', () => {
  it('turn values into places and back', () => {
    const scale = linearScale([10, 20], [300, 100])
    expect(scale.toPage(12.5)).toBe(250)
    expect(scale.fromPage(250)).toBe(12.5)
  })

  it('hug the data with a small margin', () => {
    const [low, high] = hugging(60, 100)
    expect(low).toBeLessThan(60)
    expect(low).toBeGreaterThan(58)
    expect(high).toBeGreaterThan(100)
    expect(high).toBeLessThan(102)
  })

  it('never pass zero where no value does', () => {
    expect(hugging(0.5, 100)[0]).toBe(0)
    expect(hugging(-100, -0.5)[1]).toBe(0)
    expect(hugging(-1, 100)[0]).toBeLessThan(-1)
  })

  it('leave room round a single value', () => {
    expect(hugging(5, 5)).toEqual([4.5, 5.5])
    expect(hugging(0, 0)).toEqual([-1, 1])
  })

  it('zoom about a value that stays where it is, and move', () => {
    expect(zoomed([0, 10], 2, 0.5)).toEqual([1, 6])
    expect(moved([0, 10], 3)).toEqual([3, 13])
  })

  it('are not usable when too narrow to tell values apart', () => {
    expect(isUsable([1, 1 + 1e-15])).toBe(false)
    expect(isUsable([1, 1.0001])).toBe(true)
    expect(isUsable([0, Infinity])).toBe(false)
  })
})
