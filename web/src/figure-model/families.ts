/** Families of trends, as the server declares them. */
import type { FigureDocument, FamilyWords, Trend } from '@/api/types'
import { GAP } from '@/render/geometry/ticks'
import { VOCABULARY } from './vocabulary'

export const FAMILIES: readonly FamilyWords[] = VOCABULARY.families

/** What a trend is of by itself. */
export const USUAL_FAMILY = FAMILIES[0].name

const byName = new Map(
  FAMILIES.flatMap((family) => [family.name, ...family.was].map((name) => [name, family])),
)

/** What there is to know of a family; one that is not known here has nothing to be set. */
export const familyOf = (name: string): FamilyWords =>
  byName.get(name) ?? { ...FAMILIES[0], name, label: name, note: '', settings: [] }

export const familyLabel = (name: string): string => familyOf(name).label

/** What a trend is called, with what was set about it. */
export function trendLabel({ family, settings }: Pick<Trend, 'family' | 'settings'>): string {
  const { said_as, label } = familyOf(family)
  const held = settings as Record<string, string | number>
  return (
    said_as.replace(/\{(\w+)( %)?\}/g, (_, name: string, inPercent?: string) =>
      inPercent
        ? `${Number((100 * Number(held[name])).toPrecision(3))}${GAP}%`
        : String(held[name]),
    ) || label
  )
}

/** Families that a figure has what they need for. */
export function offeredFamilies({ error_bars: bars, trends }: FigureDocument): FamilyWords[] {
  const hasBoth = bars.x !== null && bars.y !== null
  // What stands there already is offered whatever has gone since.
  return FAMILIES.filter(
    ({ name, needs }) =>
      hasBoth || !needs.includes('error bars') || trends.some(({ family }) => family === name),
  )
}
