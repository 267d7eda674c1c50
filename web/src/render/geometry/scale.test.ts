import { describe, expect, it } from 'vitest'
import { paddedDomain, isUsable, linearScale, makeScale, moved, transformOf, zoomed } from './scale'

describe('scales', () => {
  it('turn values into places and back', () => {
    const scale = linearScale([10, 20], [300, 100])
    expect(scale.toPage(12.5)).toBe(250)
    expect(scale.fromPage(250)).toBe(12.5)
  })

  it('hug the data with a small margin', () => {
    const [low, high] = paddedDomain(60, 100)
    expect(low).toBeLessThan(60)
    expect(low).toBeGreaterThan(58)
    expect(high).toBeGreaterThan(100)
    expect(high).toBeLessThan(102)
  })

  it('never pass zero where no value does', () => {
    expect(paddedDomain(0.5, 100)[0]).toBe(0)
    expect(paddedDomain(-100, -0.5)[1]).toBe(0)
    expect(paddedDomain(-1, 100)[0]).toBeLessThan(-1)
  })

  it('leave room round a single value', () => {
    expect(paddedDomain(5, 5)).toEqual([4.5, 5.5])
    expect(paddedDomain(0, 0)).toEqual([-1, 1])
  })

  it('zoom about a value that stays where it is, and move', () => {
    expect(zoomed([0, 10], 2, 0.5)).toEqual([1, 6])
    expect(moved([0, 10], 0.3)).toEqual([3, 13])
  })

  it('give each factor of a logarithmic axis the same room', () => {
    const log = makeScale(transformOf('log'), [1, 10_000], [0, 400])
    expect([1, 10, 100, 1000].map((v) => Math.round(log.toPage(v)))).toEqual([0, 100, 200, 300])
    expect(log.fromPage(150)).toBeCloseTo(10 ** 1.5, 9)
    expect(log.toPage(0)).toBeNaN()
    expect(log.toPage(-1)).toBeNaN()
  })

  it('grow with the square root, and may run backwards', () => {
    const root = makeScale(transformOf('sqrt'), [0, 100], [200, 0])
    expect([0, 25, 100].map(root.toPage)).toEqual([200, 100, 0])
    expect(root.toPage(-4)).toBeNaN()
  })

  it('hug, zoom and move by factors where they are logarithmic', () => {
    const log = transformOf('log')
    const [low, high] = paddedDomain(10, 1000, log)
    expect(low).toBeGreaterThan(7)
    expect(low * high).toBeCloseTo(10_000, 6)
    const [from, to] = zoomed([1, 10_000], 100, 0.5, log)
    expect([from, to].map(Math.round)).toEqual([10, 1000])
    expect(moved([1, 100], 0.5, log).map(Math.round)).toEqual([10, 1000])
    expect(moved([1, 9], -1, transformOf('sqrt'))).toEqual([0, 4])
  })

  it('are not usable when too narrow to tell values apart', () => {
    expect(isUsable([1, 1 + 1e-15])).toBe(false)
    expect(isUsable([1, 1.0001])).toBe(true)
    expect(isUsable([0, Infinity])).toBe(false)
  })
})
