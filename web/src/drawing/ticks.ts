/** Ticks at round values, with labels that carry no more digits than the step needs. */
import { utcDay, utcTicks } from 'd3-time'
import { utcFormat } from 'd3-time-format'
import type { Extent } from './scale'

export interface Tick {
  value: number
  label: string
}

const MINUS = '−'
/** Between thousands. */
const THIN = '\u202f'
/** Before units and round × signs: the font's own space, which is a fifth of an em. */
export const GAP = '\u00a0'
const MS_A_DAY = 86_400_000

/** The round step, 1, 2 or 5 times a power of ten, that gives about `count` ticks. */
export function roundStep(span: number, count: number): number {
  const rough = span / Math.max(1, count)
  const power = 10 ** Math.floor(Math.log10(rough))
  const lead = rough / power
  return (lead < Math.SQRT2 ? 1 : lead < Math.sqrt(10) ? 2 : lead < Math.sqrt(50) ? 5 : 10) * power
}

export function numberTicks([low, high]: Extent, count: number): Tick[] {
  const step = roundStep(high - low, count)
  const first = Math.ceil(low / step - 1e-9)
  const last = Math.floor(high / step + 1e-9)
  const ticks: Tick[] = []
  for (let i = first; i <= last; i++)
    ticks.push({ value: i * step, label: tickLabel(i * step, step) })
  return ticks
}

/** A number with the decimals of its step; grouped by thin spaces; large ones as m × 10^k. */
export function tickLabel(value: number, step: number): string {
  const exponent = Math.floor(Math.log10(step) + 1e-9)
  const size = Math.max(Math.abs(value), step)
  if (size >= 1e7 || (exponent < -5 && size < 1e-3)) {
    if (Math.abs(value) < step / 2) return '0'
    const power = Math.floor(Math.log10(Math.abs(value)) + 1e-12)
    const mantissa = (value / 10 ** power).toFixed(Math.max(0, power - exponent))
    return `${mantissa.replace('-', MINUS)}${GAP}×${GAP}10^{${String(power).replace('-', MINUS)}}`
  }
  const text = Math.abs(value).toFixed(Math.max(0, -exponent))
  const [whole, decimals] = text.split('.')
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, THIN) : whole
  const sign = value < 0 && Number(text) !== 0 ? MINUS : ''
  return sign + grouped + (decimals ? '.' + decimals : '')
}

const inYear = utcFormat('%Y')
const inMonth = utcFormat('%b')
const inMonthOfYear = utcFormat('%b %Y')
const inDay = utcFormat('%-d %b')
const inDayOfYear = utcFormat('%-d %b %Y')
const inMinute = utcFormat('%H:%M')
const inSecond = utcFormat('%H:%M:%S')

/**
 * Ticks on a date axis.
 *
 * @param extent in days since 1970-01-01
 */
export function dateTicks([low, high]: Extent, count: number): Tick[] {
  const dates = utcTicks(new Date(low * MS_A_DAY), new Date(high * MS_A_DAY), Math.max(2, count))
  const days = dates.map((date) => date.getTime() / MS_A_DAY)
  const step = days.length > 1 ? days[1] - days[0] : high - low
  return dates.map((date, i) => ({
    value: days[i],
    label: dateTickLabel(date, step, dates[i - 1]),
  }))
}

/** A date as fine as its step; what is coarser is said where it changes. */
function dateTickLabel(date: Date, step: number, before: Date | undefined): string {
  const newYear = !before || before.getUTCFullYear() !== date.getUTCFullYear()
  if (step < 1 && utcDay(date) < date) return step < 1 / 1440 ? inSecond(date) : inMinute(date)
  if (step < 28) return newYear ? inDayOfYear(date) : inDay(date)
  if (step < 360) return newYear ? inMonthOfYear(date) : inMonth(date)
  return inYear(date)
}

/** A date on an axis as ISO text, with the time of day where it has one. */
export function dateText(days: number): string {
  const text = new Date(Math.round(days * MS_A_DAY)).toISOString()
  return Number.isInteger(days) ? text.slice(0, 10) : text.slice(0, 16).replace('T', ' ')
}

/** A value as it is read: all its digits up to the sixth, and a true minus sign. */
export function valueText(value: number): string {
  const size = Math.abs(value)
  if (size >= 1e7 || (size > 0 && size < 1e-4)) {
    const [mantissa, exponent] = value.toExponential(3).split('e')
    const power = Number(exponent)
    return `${String(Number(mantissa))} × 10^{${power}}`.replaceAll('-', MINUS)
  }
  return String(Number(value.toPrecision(size >= 1e5 ? 8 : 6))).replace('-', MINUS)
}
