/** Keys of a study, where nothing that has the focus means them otherwise. */
import { onBeforeUnmount, onMounted } from 'vue'
import { returned } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { isChoosing, isTyping } from './typing'

export function useKeys(undo: () => unknown, redo: () => unknown): void {
  const figure = useFigure()
  const side = useSide()

  /** Closes the innermost thing only: a selection, a panel, the rows. */
  function escape(): void {
    if (side.selected.size) side.select([])
    else if (side.shown.kind !== 'readings') side.rest()
    else side.listed = null
  }

  function key(event: KeyboardEvent): void {
    if (event.defaultPrevented) return
    const typing = isTyping(event.target)
    const whole = event.ctrlKey || event.metaKey
    if (event.key === 'Escape') escape()
    else if (event.key === 'm' && !typing && !isChoosing(event.target) && !whole && !event.altKey) {
      if (figure.document) figure.edit(returned)
    } else if (whole && event.key.toLowerCase() === 'z' && !typing) {
      event.preventDefault()
      void (event.shiftKey ? redo() : undo())
    }
  }

  onMounted(() => window.addEventListener('keydown', key))
  onBeforeUnmount(() => window.removeEventListener('keydown', key))
}
