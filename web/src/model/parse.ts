/** What people type into fields. */

const MS_A_DAY = 86_400_000

/** A number with a comma or a point, or an ISO date, as a place on an axis; NaN where it is neither. */
export function parsePlace(text: string, isDate: boolean): number {
  if (isDate) {
    if (!/^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2}(\.\d+)?)?)?$/.test(text)) return NaN
    const stamp = Date.parse(text.length > 10 ? `${text.replace(' ', 'T')}Z` : text)
    return stamp / MS_A_DAY
  }
  const plain = text.replaceAll('−', '-').replace(/[\s\u202f]/g, '')
  const value = Number(/^[^.]*,[^,.]*$/.test(plain) ? plain.replace(',', '.') : plain)
  return Number.isFinite(value) ? value : NaN
}

/** Reads a level typed in percent, as a share; null where none is offered. */
export function parseLevel(text: string): number | null {
  const level = Number(text.replace(/[\s%\u202f]/g, '').replace(',', '.')) / 100
  return level >= 0.5 && level <= 0.999 ? level : null
}
