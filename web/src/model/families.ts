/** Families of trends, as the server declares them. */
import type { FamilyWords, Trend } from '@/api/types'
import { VOCABULARY } from './vocabulary'

export const FAMILIES: readonly FamilyWords[] = VOCABULARY.families

/** What a trend is of by itself. */
export const USUAL_FAMILY = FAMILIES[0].name

const byName = new Map(FAMILIES.map((family) => [family.name, family]))

/** What there is to know of a family; one that is not known here has nothing to be set. */
export const familyOf = (name: string): FamilyWords =>
  byName.get(name) ?? { ...FAMILIES[0], name, label: name, note: '', settings: [] }

export const familyLabel = (name: string): string => familyOf(name).label

/** What a trend is called, with what was set about it. */
export function trendLabel({ family, settings }: Pick<Trend, 'family' | 'settings'>): string {
  const { said_by, label } = familyOf(family)
  return (said_by && (settings as Record<string, unknown>)[said_by]?.toString()) || label
}
