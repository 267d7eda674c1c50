/** The rows of a table as they are needed: fetched in stretches, and kept while the table is so. */
import { ref, shallowRef, watch } from 'vue'
import type { Row } from '@/api/types'
import { fetchRows, fetchStretch, type Order } from './rows'

const STRETCH = 100
const MOST_LISTED = 1000

/** What is looked through: a table at a version, in an order, or some of its rows. */
export interface Source {
  table: string
  version: number
  order: Order
  /** Numbers of the rows, where only some are shown. */
  rows: number[] | null
}

export function useStretches(source: () => Source) {
  const total = ref(0)
  const held = shallowRef(new Map<number, Row[]>())
  let asked = new Set<number>()
  let fresh = new Map<number, Row[]>()
  let current = 0
  let wanted: [number, number] = [0, 0]

  async function fetch(stretch: number): Promise<void> {
    const mine = current
    const { table, order, rows } = source()
    if (asked.has(stretch)) return
    asked.add(stretch)
    const start = stretch * STRETCH
    const found = rows
      ? { rows: await fetchRows(table, rows.slice(start, start + STRETCH)), total: -1 }
      : await fetchStretch(table, order, start, STRETCH)
    if (mine !== current) return
    total.value = rows ? Math.min(rows.length, MOST_LISTED) : found.total
    fresh.set(stretch, found.rows)
    held.value = new Map(fresh)
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

  return { total, at, need }
}
