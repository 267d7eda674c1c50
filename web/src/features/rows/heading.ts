/** Headers are typed where they stand: a label, with its unit behind it in brackets as in a file. */
import { nextTick, ref } from 'vue'
import { Problem } from '@/api/client'
import type { VariableSummary } from '@/api/types'
import { useStudy } from '@/stores/study'

const UNIT = /^(.*\S)\s*\(([^()]+)\)$/

/**
 * @param select selects what stands in the field
 * @param say says what is wrong
 */
export function useHeading(table: () => string, select: () => void, say: (text: string) => void) {
  const studies = useStudy()
  /** The header that is typed, by the name of its variable. */
  const heading = ref<string | null>(null)

  function typeHeading(name: string): void {
    heading.value = name
    void nextTick(select)
  }

  async function headed(v: VariableSummary, typed: string): Promise<void> {
    heading.value = null
    const [, label, unit] = UNIT.exec(typed.trim()) ?? [null, typed.trim(), null]
    if (!label || (label === v.label && !unit)) return
    try {
      await studies.changeVariable(table(), v.name, unit ? { label, unit } : { label })
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      say(error.sentence)
    }
  }

  return { heading, typeHeading, headed }
}
