import { describe, expect, it } from 'vitest'
import { blankBar, blankColour, blankDocument, blankSize, blankTrend } from '@/figure-model/blank'
import type { Answer } from '@/api/types'
import { captionText } from '@/render/text/caption'
import { axisAnswer, blankAnswer } from '@/render/testing'
import { captionOf } from './caption'
import { showAt, VENUES } from '@/figure-model/venues'

const look = () => null
const answer = blankAnswer(axisAnswer('Dose', 0, 10), axisAnswer('Shed', 0, 100), 1204)

const TREND = {
  trend: 0,
  family_label: 'straight line',
  group_code: null,
  report: {
    problem: null,
    group: 'wax',
    equation: 'y = 1 + 2 x',
    r_squared: 0.64,
    n: 1204,
    level: 0.95,
    readings: [
      {
        x: 4,
        y: 9,
        mean_low: 8,
        mean_high: 10,
        new_low: null,
        new_high: null,
        carried_on: false,
        name: 'four',
      },
    ],
    solutions: [],
  },
} as unknown as Answer['trends'][number]

describe('a drafted caption', () => {
  it('says what is shown, each line with its numbers, what was read off, and the band', () => {
    const document = {
      ...blankDocument('t', 'dose', 'shed'),
      colour: blankColour('coating'),
      trends: [blankTrend('straight', 'coating')],
    }
    const drafted = captionOf(document, { ...answer, trends: [TREND] }, look)
    expect(drafted).toBe(
      'Figure {number}. shed against dose, coloured by coating; {fits}; band: {bands}.',
    )
    const text = captionText(drafted, document, { ...answer, trends: [TREND] }, 2)!
    expect(text.replaceAll('\u00a0', ' ')).toBe(
      'Figure 2. shed against dose, coloured by coating; ' +
        'wax, straight line: y = 1 + 2 x (R² = 0.64, n = 1,204); ' +
        'four: at x = 4, y = 9 (95 % interval of the mean 8 to 10); ' +
        'band: 95 % confidence.',
    )
  })

  it('says r where no trend is fitted, and how many rows are set aside', () => {
    const association = { r: 0.8, low: 0.7, high: 0.9, p_value: 0.01, n: 12, level: 0.95 }
    const counts = { ...answer.counts, set_aside: 3 }
    const document = blankDocument('t', 'dose', 'shed')
    const said = { ...answer, association, counts }
    expect(captionText(captionOf(document, said, look), document, said, 1)).toBe(
      'Figure 1. shed against dose; r = 0.80, n = 12; 3 set aside, drawn hollow.',
    )
  })

  it('says nothing of a line that could not be fitted', () => {
    const report = { ...TREND.report, problem: 'Too few rows.' }
    const document = { ...blankDocument('t', 'dose', 'shed') }
    const text = captionOf(document, { ...answer, trends: [{ ...TREND, report }] }, look)
    expect(text).toBe('Figure {number}. shed against dose.')
  })

  it('follows the data, and leaves alone what is in no field', () => {
    const document = blankDocument('t', 'dose', 'shed')
    const text = 'n = {n} of m^{2}, {R²}, {mine}'
    const fill = (n: number) => {
      const report = { ...TREND.report, n, r_squared: null }
      return captionText(text, document, { ...answer, trends: [{ ...TREND, report }] }, 1)
    }
    expect(fill(30)).toBe('n = 30 of m^{2}, –, {mine}')
    expect(fill(31)).toBe('n = 31 of m^{2}, –, {mine}')
  })
})

describe('a venue', () => {
  it('sets page, text, marks and lines together, in proportion', () => {
    for (const venue of VENUES) {
      const document = {
        ...blankDocument('t', 'dose', 'shed'),
        trends: [blankTrend('straight', null)],
      }
      showAt(document, venue)
      expect(document.page).toMatchObject({ venue: venue.venue, width: venue.width })
      expect(document.type.scale).toBe(venue.text)
      expect(document.trends[0].width / document.axes.x.width).toBeCloseTo(2)
      expect(document.marks.size / document.axes.y.width).toBeCloseTo(6)
    }
  })

  it('keeps what was made larger, and gives it back', () => {
    const document = {
      ...blankDocument('t', 'dose', 'shed'),
      trends: [blankTrend('straight', null)],
      size: { ...blankSize('households'), largest: 40 },
    }
    document.marks.size = 9
    document.error_bars.y = { ...blankBar(), cap: 8, width: 2 }
    const before = structuredClone(document)
    const venue = (name: string) => VENUES.find((one) => one.venue === name)!
    for (const { venue: name, ink, width, height } of VENUES) {
      showAt(document, venue(name))
      expect(document.marks.size).toBeCloseTo(9 * ink, 2)
      expect(document.error_bars.y.cap).toBeCloseTo(8 * ink, 2)
      // Bubbles cover as much of every page.
      const share = document.size.largest ** 2 / (width * height)
      expect(share).toBeCloseTo(40 ** 2 / (720 * 610), 4)
    }
    showAt(document, venue('screen'))
    expect(document.size.largest).toBeCloseTo(40, 1)
    expect(document.marks.size).toBeCloseTo(before.marks.size, 2)
    expect(document.trends[0].width).toBeCloseTo(before.trends[0].width, 2)
  })

  it('is as wide as a report column is', () => {
    const column = VENUES.find(({ venue }) => venue === 'report column')!
    expect((column.width * 25.4) / 72).toBeCloseTo(85, 0)
  })
})
