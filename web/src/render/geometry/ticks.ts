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

/** @param least the smallest step there may be: 1 where there are whole numbers only */
export const numberTicks = ([low, high]: Extent, count: number, least = 0): Tick[] =>
  evenTicks([low, high], Math.max(least, roundStep(high - low, count)))

/** The decimals that a step needs: those of its first digit, and more where it has more digits. */
function decimalsOf(step: number, exponent: number): number {
  let decimals = Math.max(0, -exponent)
  const isWhole = (value: number): boolean => Math.abs(value - Math.round(value)) < 1e-6 * value
  while (decimals < 12 && !isWhole(step * 10 ** decimals)) decimals++
  return decimals
}

/**
 * A number with the decimals of its step; grouped by thin spaces; large ones as m × 10^k.
 *
 * @param largest of the ticks of one axis: all are written as it is
 */
export function tickLabel(value: number, step: number, largest = Math.abs(value)): string {
  const exponent = Math.floor(Math.log10(step) + 1e-9)
  const size = Math.max(largest, step)
  if (size >= 1e7 || (exponent < -5 && size < 1e-3)) {
    if (Math.abs(value) < step / 2) return '0'
    const power = Math.floor(Math.log10(size) + 1e-12)
    const mantissa = (value / 10 ** power).toFixed(Math.max(0, power - exponent))
    return `${mantissa.replace('-', MINUS)}${GAP}×${GAP}10^{${String(power).replace('-', MINUS)}}`
  }
  const text = Math.abs(value).toFixed(decimalsOf(step, exponent))
  const [whole, decimals] = text.split('.')
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, THIN) : whole
  const sign = value < 0 && Number(text) !== 0 ? MINUS : ''
  return sign + grouped + (decimals ? '.' + decimals : '')
}

/** How an axis wants its ticks and their labels. */
export interface TickStyle {
  isDate: boolean
  /** Whether there are whole numbers only: nothing stands between them. */
  isWhole?: boolean
  isLog: boolean
  base: number
  step: number | null
  positions: readonly number[]
  small: number
  digits: number | null
  prefix: string
  suffix: string
}

export interface Ticks {
  large: Tick[]
  /** Places of small ticks, between the large ones. */
  small: number[]
}

/** At most so many ticks: a step that is much too small does not stop the browser. */
const MOST_TICKS = 500

/** The ticks of an axis: about `count` large ones, unless its style says which. */
export function ticksOf(style: TickStyle, extent: Extent, count: number): Ticks {
  const large = largeTicks(style, extent, count)
  return {
    large: large.map((tick) => dressed(tick, style)),
    small: smallTicks(style, large, extent),
  }
}

function largeTicks(style: TickStyle, [low, high]: Extent, count: number): Tick[] {
  if (style.positions.length) {
    const places = [...style.positions].sort((a, b) => a - b)
    const step = Math.min(...places.slice(1).map((p, i) => p - places[i]), high - low)
    return places
      .filter((value) => value >= low && value <= high)
      .map((value) => ({ value, label: style.isDate ? dateText(value) : tickLabel(value, step) }))
  }
  if (style.isLog) return logTicks([low, high], style.base, count)
  if (style.step !== null && (high - low) / style.step <= MOST_TICKS)
    return style.isDate
      ? evenTicks([low, high], style.step).map(({ value }) => ({ value, label: dateText(value) }))
      : evenTicks([low, high], style.step)
  return style.isDate
    ? dateTicks([low, high], count)
    : numberTicks([low, high], count, style.isWhole && high - low >= 1 ? 1 : 0)
}

function dressed(tick: Tick, { isDate, digits, prefix, suffix }: TickStyle): Tick {
  const plain = digits === null || isDate ? tick.label : tickLabel(tick.value, 10 ** -digits)
  return { value: tick.value, label: prefix + plain + suffix }
}

/** Even parts of the steps between large ticks, and of the steps before and behind them. */
function smallTicks({ isLog, base, small }: TickStyle, large: Tick[], extent: Extent): number[] {
  if (isLog && small) return logParts(extent, base)
  if (!small || large.length < 2) return []
  const values = large.map(({ value }) => value)
  const first = 2 * values[0] - values[1]
  const last = 2 * values[values.length - 1] - values[values.length - 2]
  const all = [first, ...values, last]
  return all
    .slice(1)
    .flatMap((to, i) =>
      Array.from({ length: small }, (_, k) => all[i] + ((to - all[i]) * (k + 1)) / (small + 1)),
    )
    .filter((value) => value >= extent[0] && value <= extent[1])
}

/** The multiples 2 to 9 of each power of ten; the powers themselves of other bases. */
function logParts([low, high]: Extent, base: number): number[] {
  if (base !== 10) return []
  const from = Math.floor(Math.log10(low))
  const to = Math.ceil(Math.log10(high))
  if (to - from > 12) return []
  return Array.from({ length: to - from }, (_, i) => 10 ** (from + i))
    .flatMap((power) => [2, 3, 4, 5, 6, 7, 8, 9].map((k) => k * power))
    .filter((value) => value >= low && value <= high)
}

/** Ticks of a logarithmic axis: powers of its base, with 2 and 5 times them where they are few. */
export function logTicks([low, high]: Extent, base: number, count: number): Tick[] {
  const log = (value: number): number => Math.log(value) / Math.log(base)
  const [from, to] = [Math.ceil(log(low) - 1e-9), Math.floor(log(high) + 1e-9)]
  const every = Math.max(1, Math.ceil((to - from + 1) / Math.max(2, count)))
  const isPlain = from >= -4 && base ** to < 1e6
  const powers: Tick[] = []
  for (let k = from; k <= to; k++)
    if (k % every === 0) powers.push({ value: base ** k, label: powerLabel(base, k, isPlain) })
  if (base !== 10 || powers.length > 3)
    return powers.length > 1 ? powers : numberTicks([low, high], count)
  const between: Tick[] = []
  for (let k = from - 1; k <= to; k++)
    for (const part of [1, 2, 5]) {
      const value = Number(`${part}e${k}`)
      if (value >= low * (1 - 1e-9) && value <= high * (1 + 1e-9))
        between.push({ value, label: tickLabel(value, Number(`1e${k}`)) })
    }
  return between.length > 2 ? between : numberTicks([low, high], count)
}

/** A power of an axis: as a number where all of them are short, otherwise all as powers. */
function powerLabel(base: number, power: number, isPlain: boolean): string {
  const raised = String(power).replace('-', MINUS)
  if (base === Math.E) return power === 0 ? '1' : `e^{${raised}}`
  const value = base ** power
  return isPlain ? tickLabel(value, value) : `${base}^{${raised}}`
}

/** Ticks at multiples of a step. */
function evenTicks([low, high]: Extent, step: number): Tick[] {
  const first = Math.ceil(low / step - 1e-9)
  const last = Math.floor(high / step + 1e-9)
  const largest = step * Math.max(Math.abs(first), Math.abs(last))
  return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => {
    const value = (first + i) * step
    return { value, label: tickLabel(value, step, largest) }
  })
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
  const dates = utcTicks(dateOf(low), dateOf(high), Math.max(2, count))
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
  const text = dateOf(days).toISOString()
  const day = text.startsWith('-') || text.startsWith('+') ? text.indexOf('T') : 10
  if (Number.isInteger(days)) return text.slice(0, day)
  // Seconds, and thousandths of them, only where there are some.
  const time = text.slice(day + 1, -1).replace(/(:00)?\.000$/, '')
  return `${text.slice(0, day)} ${time}`
}

/** As far as dates reach; what lies beyond stands at their end. */
const MOST_DAYS = 1e8

const dateOf = (days: number): Date =>
  new Date(Math.round(Math.max(-MOST_DAYS, Math.min(MOST_DAYS, days)) * MS_A_DAY))

/** A date as an axis says it, with the time of day where it has one. */
export function dayText(days: number): string {
  const date = dateOf(days)
  if (Number.isInteger(days)) return inDayOfYear(date)
  const time = date.getTime() % 60_000 ? inSecond(date) : inMinute(date)
  return `${inDayOfYear(date)}, ${time}`
}

const RAISED = '⁻⁰¹²³⁴⁵⁶⁷⁸⁹'
const LEVEL = '-0123456789'

/** A power written in raised letters, as plain digits. */
export const lowered = (power: string): string =>
  power.replace(/./gu, (sign) => LEVEL[RAISED.indexOf(sign)] ?? sign)

/** A value in plain words: all its digits up to the sixth, a true minus sign, powers as `10⁹`. */
export const valueText = (value: number): string =>
  valueMarkup(value).replace(/\^\{([^}]*)\}/, (_, power: string) =>
    power.replace(MINUS, '-').replace(/./g, (sign) => RAISED[LEVEL.indexOf(sign)]),
  )

/** A value among words that are drawn: as `valueText`, with powers as `10^{9}`. */
export function valueMarkup(value: number): string {
  const size = Math.abs(value)
  if (size >= 1e7 || (size > 0 && size < 1e-4)) {
    const [mantissa, exponent] = value.toExponential(5).split('e')
    const power = Number(exponent)
    return `${String(Number(mantissa))} × 10^{${power}}`.replaceAll('-', MINUS)
  }
  return String(Number(value.toPrecision(size >= 1e5 ? 8 : 6))).replace('-', MINUS)
}
