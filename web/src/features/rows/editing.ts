/**
 * Typing into cells. A draft belongs to its row and variable from the first key to the answer: where
 * rows are sorted or found anew meanwhile, its field goes with its row.
 */
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import { Problem } from '@/api/client'
import type { TableId } from '@/api/references'
import type { Row, RowsEdit, VariableSummary } from '@/api/types'
import { useStudy } from '@/stores/study'
import { useSelection } from '@/stores/selection'
import { cellText } from '@/stores/rows'
import type { Looked, useSelecting } from './selecting'

const plain = (value: number | string | null | undefined): string =>
  value === null || value === undefined ? '' : String(value)
/** What is being typed, and into which cell. */
export interface Draft {
  row: number
  variable: string
  text: string
}

const OUTDATED = 412

/** The table has been read again by then, and what was typed waits in its cell. */
const changedElsewhere = (change: RowsEdit): string =>
  'This table was changed in another tab or script, and is shown as it is now. ' +
  (change.cells?.length === 1
    ? 'Press Enter to write your value into it.'
    : 'Nothing of yours was written; check the rows, then do it again.')

const keyOf = (row: number, variable: string): string => `${row} ${variable}`

/**
 * @param at the row at a place, where it has been fetched
 * @param placeOf where a row stands now; -1 where it is not among the rows that have been fetched
 * @param focus gives the active cell, or the field in it, the focus
 */
export function useEditing(
  looked: () => Looked,
  variables: () => VariableSummary[],
  total: Ref<number>,
  at: (place: number) => Row | null,
  placeOf: (row: number) => number,
  selecting: ReturnType<typeof useSelecting>,
  focus: { cell: () => void; field: (select: boolean) => void },
) {
  const studies = useStudy()
  const selection = useSelection()
  const { active, anchor, goTo } = selecting
  const problem = ref('')
  const busy = ref(false)
  const draft = ref<Draft | null>(null)
  /** What was typed and is on its way to the server, by row and variable. */
  const typed = ref(new Map<string, string>())
  /** Cells whose text could not be read, and waits to be mended. */
  const refused = ref(new Set<string>())
  let writing: Promise<unknown> = Promise.resolve()

  const variable = (): VariableSummary => variables()[active.value.column]
  const isEditable = (): boolean => variable()?.recipe === null

  async function edit(change: RowsEdit, table = looked().table): Promise<boolean> {
    busy.value = true
    try {
      await studies.editRows(table, change)
      problem.value = ''
      return true
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      problem.value = error.status === OUTDATED ? changedElsewhere(change) : error.sentence
      return false
    } finally {
      busy.value = false
    }
  }

  function begin(text: string | null): void {
    if (!isEditable()) {
      problem.value = `“${variable().label}” is derived; change its expression in the panel on the left.`
      return
    }
    const { name } = variable()
    const row = at(active.value.row)
    if (!row) return
    // What was refused is there to be mended.
    const waiting = typed.value.get(keyOf(row.row, name))
    draft.value = { row: row.row, variable: name, text: text ?? waiting ?? plain(row.values[name]) }
    void nextTick(() => focus.field(text === null))
  }

  /** Whether the field stands in a cell. */
  const isDrafted = (place: number, name: string): boolean =>
    draft.value !== null && draft.value.variable === name && at(place)?.row === draft.value.row

  const text = computed({
    get: () => draft.value?.text ?? '',
    set: (typed) => draft.value && (draft.value = { ...draft.value, text: typed }),
  })

  /** The field follows its row; where that is in sight no more, what was typed is written. */
  watch(
    () => (draft.value === null ? null : placeOf(draft.value.row)),
    (place) => {
      if (place === null || place === active.value.row) return
      if (place < 0) return commit(0, 0)
      active.value = { ...active.value, row: place }
      anchor.value = place
      selecting.reveal(place)
      void nextTick(() => focus.field(false))
    },
  )

  /** Writes what was typed into the row where it was begun, and moves on meanwhile. */
  function commit(down: number, right: number): void {
    if (draft.value === null) return
    const { row, variable: name, text } = draft.value
    const place = placeOf(row)
    const before = place < 0 ? null : at(place)
    draft.value = null
    const key = keyOf(row, name)
    if (before && text.trim() === plain(before.values[name])) {
      // Typed back to what it was.
      typed.value.delete(key)
      refused.value.delete(key)
    } else {
      typed.value.set(key, text)
      const { table, rows, order } = looked()
      const isLast = place === total.value - 1 && down > 0 && rows === null
      const goesOn = isLast && order.sort === null && order.find === ''
      const cells = [{ row, variable: name, text }]
      // Typing goes on below the last row: another is there for it.
      if (goesOn) total.value += 1
      writing = writing.then(() =>
        write(table, goesOn ? { cells, add: { count: 1 } } : { cells }, {
          row,
          variable: name,
          text,
        }),
      )
    }
    if ((down || right) && place >= 0) void goTo(place + down, active.value.column + right)
  }

  async function write(table: TableId, change: RowsEdit, sent: Draft): Promise<void> {
    const { row, variable: name, text } = sent
    const key = keyOf(row, name)
    if (await edit(change, table)) {
      if (typed.value.get(key) === text) typed.value.delete(key)
      refused.value.delete(key)
      return
    }
    refused.value.add(key)
    // What is being typed elsewhere is not interrupted: the cell says that it waits to be mended.
    const place = placeOf(row)
    const column = variables().findIndex((one) => one.name === name)
    if (draft.value !== null || place < 0 || column < 0) return
    active.value = { row: place, column }
    anchor.value = place
    selecting.reveal(place)
    begin(text)
  }

  function abandon(): void {
    if (draft.value) {
      const key = keyOf(draft.value.row, draft.value.variable)
      typed.value.delete(key)
      refused.value.delete(key)
    }
    draft.value = null
    problem.value = ''
    void nextTick(focus.cell)
  }

  const textAt = (place: number, name: string): string => {
    const row = at(place)
    if (!row) return ''
    const value = row.values[name]
    return typed.value.get(keyOf(row.row, name)) ?? cellText(value)
  }

  const isRefused = (place: number, name: string): boolean =>
    refused.value.has(keyOf(at(place)?.row ?? -1, name))

  async function clear(): Promise<void> {
    if (!isEditable()) return
    const { name } = variable()
    const { table } = looked()
    const rows = await selecting.numbers()
    await edit({ cells: rows.map((row) => ({ row, variable: name, text: '' })) }, table)
  }

  /** Deletes the marked rows; they are selected no more either. */
  async function deleteRows(): Promise<void> {
    const { table } = looked()
    const rows = await selecting.numbers()
    if (!(await edit({ delete: rows }, table))) return
    const gone = new Set(rows)
    selection.keepOnly(table, (row) => !gone.has(row))
  }

  async function addRow(): Promise<void> {
    if (await edit({ add: { count: 1 } })) {
      total.value += 1
      await goTo(total.value - 1, 0)
    }
  }

  /** Cells of a spreadsheet: lines, parted by tabs. */
  async function paste(event: ClipboardEvent): Promise<void> {
    const text = event.clipboardData?.getData('text/plain') ?? ''
    if (draft.value !== null || text === '') return
    event.preventDefault()
    event.stopPropagation()
    const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n')
    await edit({
      paste: {
        start: active.value.row,
        variable: variable().name,
        block: lines.map((line) => line.split('\t')),
        order: looked().order,
      },
    })
  }

  return {
    problem,
    busy,
    draft,
    text,
    isDrafted,
    begin,
    commit,
    abandon,
    textAt,
    isRefused,
    clear,
    deleteRows,
    addRow,
    paste,
  }
}
