/** Readings as short texts. */
import { GAP, valueText } from '@/render/geometry/ticks'

const MINUS = '−'

/** A share of 0 to 1 or a correlation with two decimals, or as many as keep it from reading 0 or 1. */
export function shareText(value: number): string {
  const size = Math.abs(value)
  let decimals = 2
  const misleads = (): boolean => {
    const read = Number(size.toFixed(decimals))
    return (read === 1 && size < 1) || (read === 0 && size > 0)
  }
  while (decimals < 6 && misleads()) decimals++
  return value.toFixed(decimals).replace('-', MINUS)
}

/** R² of a fit, on its own scale first: of one on logarithms that of ln y, and that of y beside it. */
export function rSquaredText(fit: {
  r_squared?: number | null
  r_squared_log?: number | null
  measures?: readonly { label: string; value: number }[]
}): string {
  const [instead] = fit.measures ?? []
  if (fit.r_squared == null && instead) return `${instead.label} = ${shareText(instead.value)}`
  const { r_squared: ofY, r_squared_log: ofLog } = fit
  if (ofLog != null)
    return `R² = ${shareText(ofLog)} of ln${GAP}y${ofY == null ? '' : `, ${shareText(ofY)} of y`}`
  return ofY == null ? '' : `R² = ${shareText(ofY)}`
}

/** A p value as it stands after "p": never zero. */
export function pText(p: number): string {
  if (p < 0.0001) return '< 0.0001'
  return `= ${p.toFixed(p < 0.01 ? 4 : p < 0.1 ? 3 : 2)}`
}

/** A level of 0.5 to 0.999 in percent. */
export const levelText = (level: number): string => `${Number((level * 100).toPrecision(4))}${GAP}%`

/** A number with four digits. */
export const short = (value: number): string => valueText(Number(value.toPrecision(4)))
