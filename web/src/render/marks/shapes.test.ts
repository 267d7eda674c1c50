import { describe, expect, it } from 'vitest'
import { CONTOURS, inkOf, SHAPES } from './shapes'
import { coverage } from '@/render/paint/stamps'

describe('marker shapes', () => {
  it.each(SHAPES)('%s covers the area of a disc of diameter 1', (shape) => {
    expect(inkOf(CONTOURS[shape])).toBeCloseTo(Math.PI / 4, 10)
  })

  it.each(SHAPES)('%s is drawn with the ink it is meant to have', (shape) => {
    const size = 20
    const drawn = coverage(CONTOURS[shape], size, 30, 30, 60).reduce((sum, v) => sum + v, 0)
    expect(drawn / ((Math.PI / 4) * size * size)).toBeCloseTo(1, 2)
  })

  it('are eleven, and no two are alike', () => {
    expect(new Set(SHAPES.map((shape) => JSON.stringify(CONTOURS[shape]))).size).toBe(11)
  })
})
