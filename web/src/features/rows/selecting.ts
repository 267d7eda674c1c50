/** The cell that the keys move, and the stretch of rows that is marked from it: by ranges, so that a million rows are as light as one. */
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import type { TableId } from '@/api/references'
import type { Row } from '@/api/types'
import { fetchNumbers, type Order } from '@/stores/rows'

export interface Looked {
  table: TableId
  /** Numbers of the rows, where only some are shown. */
  rows: number[] | null
  order: Order
}

/**
 * @param at the row at a place, where it has been fetched
 * @param reveal brings a row into sight
 * @param focus gives the active cell the focus
 */
export function useSelecting(
  looked: () => Looked,
  total: Ref<number>,
  columns: () => number,
  at: (place: number) => Row | null,
  reveal: (place: number) => void,
  focus: () => void,
) {
  const active = ref({ row: 0, column: 0 })
  /** Where the stretch of marked rows began. */
  const anchor = ref(0)

  const marked = computed(() => {
    const [from, to] = [anchor.value, active.value.row].sort((a, b) => a - b)
    return { from, count: total.value ? Math.min(to, total.value - 1) - from + 1 : 0 }
  })

  const isMarked = (place: number): boolean =>
    place >= Math.min(anchor.value, active.value.row) &&
    place <= Math.max(anchor.value, active.value.row)

  /** Numbers of all rows that are marked, also of those that were never in sight. */
  async function numbers(): Promise<number[]> {
    const { from, count } = marked.value
    const { table, rows, order } = looked()
    // Those that are seen to be marked, and not those that stand at these places by now.
    const seen = Array.from({ length: count }, (_, i) => at(from + i)?.row)
    const known = seen.filter((row) => row !== undefined)
    return rows || known.length === count ? known : fetchNumbers(table, order, from, count)
  }

  /** Moves to a cell, which is scrolled into view and gets the keys. */
  async function goTo(row: number, column: number, extend = false): Promise<void> {
    active.value = {
      row: Math.max(0, Math.min(row, total.value - 1)),
      column: Math.max(0, Math.min(column, columns() - 1)),
    }
    if (!extend) anchor.value = active.value.row
    reveal(active.value.row)
    await nextTick()
    focus()
  }

  function toTop(): void {
    active.value = { ...active.value, row: 0 }
    anchor.value = 0
  }

  watch(total, (count) => {
    active.value.row = Math.max(0, Math.min(active.value.row, count - 1))
    anchor.value = active.value.row
  })

  return { active, anchor, marked, isMarked, numbers, goTo, toTop, reveal }
}
