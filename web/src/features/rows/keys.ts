/** Keys of the grid: to move, to mark, to begin typing; and those of the field in a cell. */
import type { useEditing } from './editing'
import type { useSelecting } from './selecting'

export function gridKeys(
  { active, goTo }: ReturnType<typeof useSelecting>,
  editing: ReturnType<typeof useEditing>,
  size: () => { rows: number; columns: number; page: number },
) {
  function key(event: KeyboardEvent): void {
    // Keys of a header or of a row's number are its own.
    const isCell = event.target instanceof HTMLElement && event.target.closest('[data-cell]')
    if (editing.draft.value !== null || !isCell) return
    const { row, column } = active.value
    const { rows, columns, page } = size()
    const whole = event.ctrlKey || event.metaKey
    const moves: Record<string, [number, number]> = {
      ArrowUp: [row - 1, column],
      ArrowDown: [row + 1, column],
      ArrowLeft: [row, column - 1],
      ArrowRight: [row, column + 1],
      PageUp: [row - page, column],
      PageDown: [row + page, column],
      Home: [whole ? 0 : row, 0],
      End: [whole ? rows - 1 : row, columns - 1],
    }
    if (event.key in moves) void goTo(...moves[event.key], event.shiftKey)
    else if (event.key === 'Enter' || event.key === 'F2') editing.begin(null)
    else if (event.key === 'Delete' || event.key === 'Backspace') void editing.clear()
    else if (event.key.length === 1 && !whole && !event.altKey) editing.begin(event.key)
    else return
    event.preventDefault()
  }

  function fieldKey(event: KeyboardEvent): void {
    if (event.key === 'Enter') editing.commit(event.shiftKey ? -1 : 1, 0)
    else if (event.key === 'Tab') editing.commit(0, event.shiftKey ? -1 : 1)
    else if (event.key === 'Escape') editing.abandon()
    else return
    event.preventDefault()
    event.stopPropagation()
  }

  return { key, fieldKey }
}
