/** What bands and intervals are, in words. */
import type { FitReport, Trend } from '@/api/types'
import { levelText } from './numbers'

type Kind = Trend['bands'][number]['kind']

const KINDS: Record<Kind, string> = {
  confidence: 'confidence',
  'whole line': 'simultaneous confidence',
  prediction: 'prediction',
}

const ALLOWS_FOR: Record<FitReport['errors'], string> = {
  equal: '',
  hc3: 'with robust standard errors (HC3)',
  cluster: 'with standard errors by cluster (CR2)',
  bootstrap: 'by bootstrap',
  given: 'from the standard errors of y given',
}

/** What the standard errors of a fit allow for; empty where they take the scatter as equal. */
export const errorsText = (errors: FitReport['errors']): string => ALLOWS_FOR[errors]

/** Bands in words: "95 % confidence and 95 % prediction, with robust standard errors (HC3)". */
export function bandsText(
  bands: readonly { kind: Kind; level: number }[],
  errors: FitReport['errors'],
): string {
  const each = bands.map(({ kind, level }) => `${levelText(level)} ${KINDS[kind]}`)
  const said = errorsText(errors)
  return each.join(', ') + (each.length && said ? `, ${said}` : '')
}
