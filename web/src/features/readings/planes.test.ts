/** Planes are written as lines are. */
import { describe, expect, it } from 'vitest'
import type { Answer } from '@/api/types'
import { fitsOf } from '@/render/fits'
import { axisAnswer, blankAnswer } from '@/render/testing'
import { readOffLines } from '@/render/text/caption'
import { asCsv, written } from './writing'

type PlaneReport = NonNullable<Answer['space']>['planes'][number]

const PLANE: PlaneReport = {
  group: null,
  group_code: null,
  family_label: 'plane',
  degree: 1,
  equation: 'up = 2 + 3·across',
  equation_note: '',
  n: 9,
  dropped: { missing: 0 },
  level: 0.95,
  coefficients: [],
  degrees_of_freedom: 6,
  r_squared: 0.5,
  adjusted_r_squared: 0.4,
  residual_sd: 1,
  f: 12,
  df_fit: 2,
  p_value: 0.008,
  condition: 1,
  readings: [],
  sentence: 'It rises.',
  assumptions: [],
  surface: null,
  problem: null,
}

describe('planes among other fits', () => {
  it('are written as lines are: on the page, as text, and as a table', () => {
    const reading: PlaneReport['readings'][number] = {
      across: 5,
      depth: '2031-04-01',
      up: 50,
      mean_low: 48,
      mean_high: 52,
      new_low: 40,
      new_high: 60,
      carried_on: true,
      name: null,
      places: [5, 22_371, 50],
    }
    const answer: Answer = {
      ...blankAnswer(axisAnswer('Across', 0, 10), axisAnswer('Up', 0, 100, 'mL'), 3),
      space: { depth: axisAnswer('Depth', 0, 4), planes: [{ ...PLANE, readings: [reading] }] },
    }
    const [fit] = fitsOf(answer)
    expect(readOffLines(fit.report)).toEqual([
      'at across 5, depth 2031-04-01, y = 50 (95\u00a0% interval of the mean 48 to 52; of a new row 40 to 60), outside the data',
    ])
    const text = written(answer, 'Figure', false)
    expect(text).toContain('All rows: plane')
    expect(text).toContain('F(2, 6): 12')
    expect(asCsv(answer).split('\n')).toContain('1,,plane,r_squared,0.5,,')
  })
})
