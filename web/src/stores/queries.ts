/**
 * What the server answers, kept and asked anew by TanStack Query.
 *
 * A key is made of references and versions: where what an answer rests on changes, its key does, and
 * the answer before counts for nothing, whenever it comes.
 */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, type ComputedRef, type Ref } from 'vue'
import { Problem } from '@/api/client'
import type { TableId } from '@/api/references'
import { isSuperseded, queryClient, type Key } from './query-client'
import { useStudy } from './study'

/** What can change of a study, by which answers have to be asked for anew. */
type StatementContext = 'data' | 'categories' | 'formulas'

/** What each kind of answer rests on, besides what it is asked with. */
export const RESTS_ON = {
  answer: ['data', 'categories'],
  smallAnswer: ['data', 'categories'],
  residuals: ['data', 'categories'],
  comparison: ['data', 'categories', 'formulas'],
  pairs: ['data', 'categories'],
  suggestions: ['data', 'categories'],
  calls: ['data', 'categories'],
  outgoing: ['data', 'categories'],
  row: ['data'],
  expression: ['data'],
} as const satisfies Record<string, readonly StatementContext[]>

export type Answer = keyof typeof RESTS_ON

/** Makes keys of answers about a table. */
export function useKeys(): (answer: Answer, table: TableId, ...asked: unknown[]) => Key {
  const studies = useStudy()
  const parts: Record<StatementContext, (table: TableId) => unknown> = {
    data: (table) => studies.tableOf(table)?.version ?? null,
    categories: () => studies.study?.categories ?? null,
    formulas: () => studies.study?.formulas ?? null,
  }
  return (answer, table, ...asked) => [
    answer,
    table,
    ...RESTS_ON[answer].map((ground) => parts[ground](table)),
    ...asked,
  ]
}

/** Whether two keys are of one kind of answer about one state of one table. */
function sameGround(one: Key, other: Key): boolean {
  const ground = 2 + (RESTS_ON[one[0] as Answer]?.length ?? 0)
  return JSON.stringify(one.slice(0, ground)) === JSON.stringify(other.slice(0, ground))
}

export interface Asked<T> {
  data: Readonly<Ref<T | undefined>>
  /** Why there is no answer; empty where there is one, or it is on its way. */
  problem: ComputedRef<string>
  error: ComputedRef<Problem | null>
  isAsking: Readonly<Ref<boolean>>
  /** The share that is done of what takes long. */
  done: Ref<number>
  stop: () => Promise<void>
}

/**
 * Asks the server for as long as a component is there.
 *
 * @param key of what is asked; null where nothing is
 * @param ask is given the signal by which it is stopped, and what is told the share that is done
 * @param options.keepsLast whether the answer to another question about the same rows stays while
 *   this one is asked
 */
export function useAnswer<T>(
  key: () => Key | null,
  ask: (signal: AbortSignal, tell: (share: number) => void) => Promise<T>,
  { keepsLast = false } = {},
): Asked<T> {
  const done = ref(0)
  const stopped = ref('')
  const queryKey = computed(() => key() ?? ['nothing'])
  const text = computed(() => JSON.stringify(queryKey.value))
  const query = useQuery<T, Error, T, Key>(
    {
      queryKey,
      placeholderData: (last, of) =>
        keepsLast && of && sameGround(of.queryKey, queryKey.value) ? last : undefined,
      enabled: () => key() !== null && stopped.value !== text.value,
      queryFn: ({ signal }) => {
        done.value = 0
        return ask(signal, (share) => {
          if (!signal.aborted) done.value = share
        })
      },
    },
    queryClient,
  )
  const error = computed((): Problem | null => {
    const found = query.error.value
    if (found === null || isSuperseded(found)) return null
    if (found instanceof Problem) return found
    throw found
  })
  return {
    data: query.data,
    problem: computed(() =>
      stopped.value === text.value ? 'Stopped.' : (error.value?.sentence ?? ''),
    ),
    error,
    isAsking: query.isFetching,
    done,
    async stop() {
      stopped.value = text.value
      await queryClient.cancelQueries({ queryKey: queryKey.value, exact: true })
    },
  }
}
