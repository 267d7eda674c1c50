/** The rows of a table as they are needed: fetched in stretches, and kept while the table is so. */
import { computed, ref, shallowRef, watch } from 'vue'
import { Problem } from '@/api/client'
import type { TableId } from '@/api/references'
import type { Row } from '@/api/types'
import { fetchRows, fetchStretch, type Order } from '@/stores/rows'

const STRETCH = 100
const MOST_LISTED = 1000

/** What is looked through: a table at a version, in an order, or some of its rows. */
export interface Source {
  table: TableId
  version: number
  order: Order
  /** Numbers of the rows, where only some are shown. */
  rows: number[] | null
}

export function useStretches(source: () => Source) {
  const total = ref(0)
  const held = shallowRef(new Map<number, Row[]>())
  /** Why rows are not there; empty where they are, or on their way. */
  const problem = ref('')
  let asked = new Set<number>()
  let fresh = new Map<number, Row[]>()
  let current = 0
  let wanted: [number, number] = [0, 0]

  /** Some rows by their numbers, all at once: those that are gone leave no gap. */
  async function fetchListed(table: TableId, rows: number[]): Promise<Row[][]> {
    const listed = rows.slice(0, MOST_LISTED)
    const parts = Array.from({ length: Math.ceil(listed.length / STRETCH) }, (_, i) =>
      fetchRows(table, listed.slice(i * STRETCH, (i + 1) * STRETCH)),
    )
    const found = (await Promise.all(parts)).flat()
    return Array.from({ length: Math.ceil(found.length / STRETCH) }, (_, i) =>
      found.slice(i * STRETCH, (i + 1) * STRETCH),
    )
  }

  async function fetch(stretch: number): Promise<void> {
    const mine = current
    const { table, order, rows } = source()
    const key = rows ? 0 : stretch
    if (asked.has(key)) return
    asked.add(key)
    try {
      if (rows) {
        const parts = await fetchListed(table, rows)
        if (mine !== current) return
        fresh = new Map(parts.entries())
        total.value = parts.reduce((sum, part) => sum + part.length, 0)
      } else {
        const found = await fetchStretch(table, order, stretch * STRETCH, STRETCH)
        if (mine !== current) return
        total.value = found.total
        fresh.set(stretch, found.rows)
      }
      problem.value = ''
      held.value = new Map(fresh)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      if (mine !== current) return
      // Asked for again when it is needed again.
      asked.delete(key)
      problem.value = error.sentence
    }
  }

  /** Makes sure that the rows from one place to another are there, or on their way. */
  async function need(first: number, last: number): Promise<void> {
    wanted = [first, last]
    const from = Math.floor(first / STRETCH)
    const to = Math.floor(Math.max(first, last) / STRETCH)
    await Promise.all(Array.from({ length: to - from + 1 }, (_, i) => fetch(from + i)))
  }

  const at = (place: number): Row | null =>
    held.value.get(Math.floor(place / STRETCH))?.[place % STRETCH] ?? null

  const places = computed(() => {
    const found = new Map<number, number>()
    for (const [stretch, rows] of held.value)
      rows.forEach(({ row }, i) => found.set(row, stretch * STRETCH + i))
    return found
  })
  /** Where a row stands; -1 where it is not among the rows that have been fetched. */
  const placeOf = (row: number): number => places.value.get(row) ?? -1

  watch(
    () => JSON.stringify(source()),
    () => {
      // What was shown stays until the new rows are here.
      current += 1
      asked = new Set()
      fresh = new Map()
      void need(...wanted)
    },
    { immediate: true },
  )

  return { total, at, placeOf, need, problem, retry: () => need(...wanted) }
}
