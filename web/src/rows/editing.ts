/** Typing into cells: what is typed moves on at once while it is written, and what cannot be read comes back to be mended. */
import { nextTick, ref, type Ref } from 'vue'
import { Problem } from '@/api/client'
import type { Row, RowsEdit, VariableSummary } from '@/api/types'
import { useStudy } from '@/stores/study'
import { cellText } from './rows'
import type { Looked, useSelecting } from './selecting'

const plain = (value: number | string | null | undefined): string =>
  value === null || value === undefined ? '' : String(value)
const keyOf = (row: number, variable: string): string => `${row} ${variable}`

/** @param focus gives the active cell, or the field in it, the focus */
export function useEditing(
  looked: () => Looked,
  variables: () => VariableSummary[],
  total: Ref<number>,
  at: (place: number) => Row | null,
  selecting: ReturnType<typeof useSelecting>,
  focus: { cell: () => void; field: (select: boolean) => void },
) {
  const studies = useStudy()
  const { active, anchor, goTo } = selecting
  const problem = ref('')
  const busy = ref(false)
  /** What stands in the field of the active cell; null while none is open. */
  const draft = ref<string | null>(null)
  /** What was typed and is on its way to the server, by row and variable. */
  const typed = ref(new Map<string, string>())
  /** Cells whose text could not be read, and waits to be mended. */
  const refused = ref(new Set<string>())
  let writing: Promise<unknown> = Promise.resolve()

  const variable = (): VariableSummary => variables()[active.value.column]
  const isEditable = (): boolean => variable()?.recipe === null

  async function edit(change: RowsEdit): Promise<boolean> {
    busy.value = true
    try {
      await studies.editRows(looked().table, change)
      problem.value = ''
      return true
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      problem.value = error.sentence
      return false
    } finally {
      busy.value = false
    }
  }

  function begin(text: string | null): void {
    if (!isEditable()) {
      problem.value = `“${variable().label}” is derived; its expression is changed in the ledger.`
      return
    }
    const { name } = variable()
    const row = at(active.value.row)
    // What was refused is there to be mended.
    const waiting = row && typed.value.get(keyOf(row.row, name))
    draft.value = text ?? waiting ?? plain(row?.values[name])
    void nextTick(() => focus.field(text === null))
  }

  /** Moves on while what was typed is written. */
  function commit(down: number, right: number): void {
    const text = draft.value
    const place = { ...active.value }
    const row = at(place.row)
    if (text === null || !row) return
    const { name } = variable()
    draft.value = null
    const key = keyOf(row.row, name)
    if (text.trim() === plain(row.values[name])) {
      // Typed back to what it was.
      typed.value.delete(key)
      refused.value.delete(key)
    } else {
      typed.value.set(key, text)
      const { rows, order } = looked()
      const isLast = place.row === total.value - 1 && down > 0 && rows === null
      const goesOn = isLast && order.sort === null && order.find === ''
      const cells = [{ row: row.row, variable: name, text }]
      // Typing goes on below the last row: another is there for it.
      if (goesOn) total.value += 1
      writing = writing.then(() =>
        write(goesOn ? { cells, add: { count: 1 } } : { cells }, key, text, place),
      )
    }
    if (down || right) void goTo(place.row + down, place.column + right)
  }

  async function write(
    change: RowsEdit,
    key: string,
    text: string,
    place: { row: number; column: number },
  ): Promise<void> {
    if (await edit(change)) {
      if (typed.value.get(key) === text) typed.value.delete(key)
      refused.value.delete(key)
      return
    }
    refused.value.add(key)
    // What is being typed elsewhere is not interrupted: the cell says that it waits to be mended.
    if (draft.value !== null) return
    active.value = place
    anchor.value = place.row
    begin(text)
  }

  function abandon(): void {
    const row = at(active.value.row)
    if (row) {
      const key = keyOf(row.row, variable().name)
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
    const rows = await selecting.numbers()
    await edit({ cells: rows.map((row) => ({ row, variable: name, text: '' })) })
  }

  const deleteRows = async () => edit({ delete: await selecting.numbers() })

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
