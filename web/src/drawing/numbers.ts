/** Readings as short texts. */
import { GAP } from './ticks'

const MINUS = '−'

/** A share of 0 to 1 or a correlation with two decimals, or as many as keep it from reading 1. */
export function shareText(value: number): string {
  const size = Math.abs(value)
  let decimals = 2
  while (decimals < 6 && size < 1 && Number(size.toFixed(decimals)) === 1) decimals++
  return value.toFixed(decimals).replace('-', MINUS)
}

/** A p value as it stands after "p": never zero. */
export function pText(p: number): string {
  if (p < 0.0001) return '< 0.0001'
  return `= ${p.toFixed(p < 0.01 ? 4 : p < 0.1 ? 3 : 2)}`
}

/** A level of 0.5 to 0.999 in percent. */
export const levelText = (level: number): string => `${Number((level * 100).toPrecision(4))}${GAP}%`
