/** How a setting of a family stands on a slider, and how its value reads. */
import type { SettingWords } from '@/api/types'

export interface Range {
  min: number
  max: number
  step: number
}

/** Ends of the slider; what counts units of x goes by how far the data reach. */
export function rangeOf(setting: SettingWords, span: number | null): Range {
  if (span !== null) return { min: span / 200, max: span / 2, step: span / 400 }
  const [low, high] = setting.slider ?? [0, 1]
  if (setting.scale === 'log') return { min: Math.log10(low), max: Math.log10(high), step: 0.1 }
  if (setting.scale === 'share') return { min: low * 100, max: high * 100, step: 1 }
  return { min: low, max: high, step: 1 }
}

/** Where a value stands on the slider. */
export function sliderPlace({ scale, slider }: SettingWords, value: number): number {
  if (scale === 'log') return Math.log10(Math.max(value, slider?.[0] ?? Number.MIN_VALUE))
  return scale === 'share' ? Math.round(value * 100) : value
}

/** The value at a place of the slider. */
export function sliderValue({ scale }: SettingWords, place: number): number {
  if (scale === 'log') return Number((10 ** place).toPrecision(3))
  return scale === 'share' ? place / 100 : place
}

export function settingText({ scale }: SettingWords, value: number, suffix: string): string {
  const text =
    scale === 'share'
      ? `${Math.round(value * 100)} %`
      : scale === 'log'
        ? value.toPrecision(2)
        : String(Number(value.toPrecision(3)))
  return suffix ? `${text} ${suffix}` : text
}

/** By which a setting of a family is sought in the panel of its trend. */
export const settingKey = (name: string): string => `settings.${name}`
