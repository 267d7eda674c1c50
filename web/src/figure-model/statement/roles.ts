/** Where a variable can be put on a figure: what the figure's statement offers for it. */
import type { ChoicePart, Role, Statement } from './parts'

/** A role that a variable can have on a figure. */
export interface RoleChoice {
  role: Role
  label: string
  /** Whether it has this role already. */
  isTaken: boolean
  put: () => void
}

const LABELS: Record<Role, string> = {
  y: 'y axis',
  'another y': 'another y variable',
  x: 'x axis',
  z: 'z axis',
  colour: 'colour',
  size: 'size',
  labels: 'labels',
  by: 'categories',
  matrix: 'matrix',
}

/**
 * The roles that a statement offers for a variable, in their order in the sentence.
 *
 * A role is offered by a word of the sentence, or by what could be added to it.
 */
export function rolesFor({ sentence, offers }: Statement, variable: string): RoleChoice[] {
  return [...sentence, ...offers]
    .filter((part): part is ChoicePart & { role: Role } => part.kind === 'choice' && !!part.role)
    .flatMap(({ role, options, why }) => {
      const found = why ? undefined : options.find((option) => option.variable === variable)
      return found ? [{ role, label: LABELS[role], isTaken: found.isChosen, put: found.pick }] : []
    })
}
