/** The rows that are selected: of one table, in whichever of its figures they are seen. */
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { RowsOf, TableId } from '@/api/references'
import { useSide } from './side'

const NONE: ReadonlySet<number> = new Set()

export const useSelection = defineStore('selection', () => {
  const side = useSide()
  const selected = shallowRef<RowsOf | null>(null)

  /** The selected rows of a table; none where those of another are selected. */
  const rowsIn = (table: TableId | null | undefined): ReadonlySet<number> =>
    selected.value && selected.value.table === table ? selected.value.rows : NONE

  /** Selects rows of a table: in place of those before, added to them, or taken away from them. */
  function select(
    table: TableId,
    rows: Iterable<number>,
    how: 'instead' | 'add' | 'take' = 'instead',
  ): void {
    const next = new Set(how === 'instead' ? rows : rowsIn(table))
    if (how === 'add') for (const row of rows) next.add(row)
    if (how === 'take') for (const row of rows) next.delete(row)
    if (!next.size) return clear()
    selected.value = { table, rows: next }
    side.show({ kind: 'selection' })
  }

  function clear(): void {
    selected.value = null
    if (side.shown.kind === 'selection') side.rest()
  }

  /** Forgets rows of a table that are gone. */
  function keepOnly(table: TableId, isThere: (row: number) => boolean): void {
    const before = rowsIn(table)
    const left = [...before].filter(isThere)
    if (left.length === before.size) return
    if (left.length) selected.value = { table, rows: new Set(left) }
    else clear()
  }

  return { selected, rowsIn, select, clear, keepOnly }
})
