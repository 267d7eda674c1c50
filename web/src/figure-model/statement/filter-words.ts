/** A row filter in words. */
import type { Condition, RowFilter, VariableSummary } from '@/api/types'
import { inSentence } from '@/figure-model/words'

const MOST_NAMED = 3

function listed(values: string[]): string {
  if (!values.length) return 'nothing'
  if (values.length > MOST_NAMED) return `any of ${values.length} values`
  return values.length === 1
    ? values[0]
    : `${values.slice(0, -1).join(', ')} or ${values[values.length - 1]}`
}

function conditionWords(condition: Condition, name: string): string {
  const { test, low, high, values, text } = condition
  switch (test) {
    case 'between':
      if (low !== null && low === high) return `${name} is ${low}`
      if (low !== null && high !== null) return `${name} ${low} to ${high}`
      if (low !== null) return `${name} ≥ ${low}`
      return high === null ? `${name} is not missing` : `${name} ≤ ${high}`
    case 'one_of':
      return `${name} is ${listed(values)}`
    case 'not_one_of':
      return `${name} is not ${listed(values)}`
    case 'contains':
      return `${name} contains “${text}”`
    case 'missing':
      return `${name} is missing`
    case 'present':
      return `${name} is not missing`
  }
}

export function filterWords(
  { join, conditions }: RowFilter,
  variables: readonly VariableSummary[],
): string {
  const words = (name: string) => {
    const found = variables.find((v) => v.name === name)
    return found ? inSentence(found) : name
  }
  return conditions.map((c) => conditionWords(c, words(c.variable))).join(` ${join} `)
}
