import { describe, expect, it } from 'vitest'
import type { Answer, FitReport } from '@/api/types'
import { axisAnswer, blankAnswer } from '@/render/testing'
import { readOffLines } from '@/render/text/caption'
import { asCsv, asJson, carriedCsv, detailLines, mainLines, written } from './writing'

const REPORT: FitReport = {
  group: 'wax',
  measures: [],
  family: 'straight',
  equation: 'y = 1.00 + 2.00 x^{2}',
  equation_note: '',
  n: 1204,
  dropped: { missing: 3, set_aside: 0 },
  level: 0.95,
  errors: 'equal',
  coefficients: [
    {
      name: 'a',
      label: 'Intercept a',
      value: 0,
      se: null,
      low: null,
      high: null,
      was_given: true,
      p_value: null,
    },
    {
      name: 'b',
      label: 'Slope b',
      value: 2,
      se: 0.5,
      low: 1,
      high: 3,
      was_given: false,
      p_value: 0.00001,
    },
  ],
  correlations: [],
  degrees_of_freedom: 1202,
  r_squared: 0.64,
  adjusted_r_squared: 0.639,
  r_squared_log: null,
  residual_sd: 1.25,
  aicc: -12.3,
  left_out_error: 1.3,
  parameters: 2,
  r: 0.8,
  r_low: 0.7,
  r_high: 0.9,
  p_value: 0.00001,
  readings: [
    {
      x: 4,
      y: 9,
      mean_low: 8,
      mean_high: 10,
      new_low: 6,
      new_high: 12,
      carried_on: true,
      name: 'four',
      x_place: 4,
      y_place: 9,
    },
  ],
  solutions: [
    {
      y: 50,
      x: null,
      low: null,
      high: null,
      carried_on: false,
      note: 'It ends at 20.',
      name: null,
      x_place: null,
      y_place: 50,
      low_place: null,
      high_place: null,
    },
  ],
  sentence: 'Each step goes with 2 more.',
  assumptions: [],
  problem: null,
}

const answer = (report: Partial<FitReport> = {}): Answer => ({
  ...blankAnswer(axisAnswer('Dose', 1, 4), axisAnswer('Shed', 1, 9), 4),
  trends: [
    {
      trend: 0,
      family_label: 'straight line',
      group_code: 0,
      group_value: 'a',
      report: { ...REPORT, ...report },
      curve: null,
      carried: [
        {
          x: [4, 5],
          y: [9, 11],
          bands: [{ kind: 'confidence', level: 0.95, low: [8, 9], high: [10, 13] }],
        },
      ],
      with_all: null,
    },
  ],
  cautions: [
    {
      title: 'Few rows',
      text: 'It rests on 4.',
      rows: [],
      group: null,
      variable: null,
      remedy: null,
    },
  ],
})

describe('readings in writing', () => {
  it('name what each number is, and never say that p is zero', () => {
    expect(mainLines(REPORT)).toContainEqual({ label: 'p', value: '< 0.0001' })
    expect(mainLines(REPORT)).toContainEqual({ label: 'n', value: '1,204' })
    const lines = detailLines(REPORT)
    expect(lines[0]).toEqual({ label: 'Intercept a', value: '0, given' })
    expect(lines.slice(1, 5)).toEqual([
      { label: 'Slope b', value: '2' },
      { label: 'standard error', value: '0.5' },
      { label: '95\u00a0% interval', value: '1 to 3' },
      { label: 'p', value: '< 0.0001' },
    ])
    expect(lines).toContainEqual({ label: 'Rows with a missing value', value: '3' })
    expect(lines.some(({ label }) => label === 'Rows set aside')).toBe(false)
  })

  it('call the R² of a smooth R², too', () => {
    expect(mainLines({ ...REPORT, family: 'local' })[0].label).toBe('R²')
    const onLogs = mainLines({ ...REPORT, r_squared: 0.4, r_squared_log: 0.9 }).slice(0, 2)
    expect(onLogs).toEqual([
      { label: 'R² of ln y', value: '0.90' },
      { label: 'R² of y', value: '0.40' },
    ])
  })

  it('say what was read off, whether outside the data, and what is never reached', () => {
    expect(readOffLines(REPORT)).toEqual([
      'four: at x = 4, y = 9 (95\u00a0% interval of the mean 8 to 10; of a new row 6 to 12), outside the data',
      'y = 50 is never reached. It ends at 20.',
    ])
  })

  it('come as text and as Markdown, cautions and all', () => {
    const text = written(answer(), 'Shed against dose', false)
    expect(text).toContain('y = 1.00 + 2.00 x^2')
    expect(text).toContain('Few rows: It rests on 4.')
    expect(text).not.toContain('#')
    const marked = written(answer(), 'Shed against dose', true)
    expect(marked.startsWith('# Shed against dose\n')).toBe(true)
    expect(marked).toContain('## wax: straight line')
  })

  it('say why there is no fit', () => {
    expect(written(answer({ problem: 'Too few rows.' }), 'T', false)).toContain('Too few rows.')
  })

  it('come as rows that no spreadsheet runs as a formula', () => {
    const csv = asCsv(answer({ group: '=1+1' }))
    expect(csv.split('\n')[0]).toBe('trend,group,family,reading,value,low,high')
    expect(csv).toContain("1,'=1+1,straight,b,2,1,3")
    expect(csv).toContain(',four,9,8,10')
    expect(JSON.parse(asJson(answer())).fits[0].n).toBe(1204)
  })

  it('give what is carried on as a table', () => {
    expect(carriedCsv(answer(), String).split('\n')).toEqual([
      'group,x,y,low,high',
      'wax,4,9,8,10',
      'wax,5,11,9,13',
    ])
  })
})
