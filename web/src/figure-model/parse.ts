/** What people type into fields. */

import { lowered } from '@/render/geometry/ticks'

const MS_A_DAY = 86_400_000

/** A comma before three digits may part thousands, or be a decimal comma. */
const COULD_BE_TWO = /^[+\-−]?[1-9]\d{0,2},\d{3}$/

/** Why a text is no place on an axis, and what to type. */
export function whyNoPlace(text: string, isDate: boolean): string {
  if (isDate) return `“${text}” is not a date such as 2031-04-01.`
  if (!COULD_BE_TWO.test(text.trim())) return `“${text}” is not a number.`
  const [whole, rest] = text.trim().split(',')
  return `“${text}” could be ${whole}${rest} or ${whole}.${rest}. Type the one that is meant.`
}

/** A number with a comma or a point, or an ISO date, as a place on an axis; NaN where it is neither. */
export function parsePlace(text: string, isDate: boolean): number {
  if (isDate) {
    if (!/^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2}(\.\d+)?)?)?$/.test(text)) return NaN
    const stamp = Date.parse(text.length > 10 ? `${text.replace(' ', 'T')}Z` : text)
    // The 30th of February would be taken for a day in March.
    const isThere =
      !Number.isNaN(stamp) && new Date(stamp).toISOString().startsWith(text.slice(0, 10))
    return isThere ? stamp / MS_A_DAY : NaN
  }
  if (COULD_BE_TWO.test(text.trim())) return NaN
  const plain = text
    .replaceAll('−', '-')
    .replace(/[\s\u202f]/g, '')
    .replace(/×10([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)$/, (_, power: string) => `e${lowered(power)}`)
  const value = Number(/^[^.]*,[^,.]*$/.test(plain) ? plain.replace(',', '.') : plain)
  return Number.isFinite(value) ? value : NaN
}

/** Reads a level typed in percent, as a share; null where none is offered. */
export function parseLevel(text: string): number | null {
  const level = Number(text.replace(/[\s%\u202f]/g, '').replace(',', '.')) / 100
  return level >= 0.5 && level <= 0.999 ? level : null
}
