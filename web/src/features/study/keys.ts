/** Keys of a study, where nothing that has the focus means them otherwise. */
import { onBeforeUnmount, onMounted } from 'vue'
import { returned } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { useHistory } from '@/stores/history'
import { useSelection } from '@/stores/selection'
import { useSide } from '@/stores/side'
import { pressedInStudy } from '@/stores/single-keys'
import { isChoosing, isTyping } from '@/lib/typing'

export function useKeys(undo: () => unknown, redo: () => unknown, list: () => unknown): void {
  const figure = useFigure()
  const history = useHistory()
  const side = useSide()
  const selection = useSelection()

  /** Closes the innermost thing only: a selection, a panel, the rows. */
  function escape(): void {
    if (selection.rowsIn(figure.document?.table).size) selection.clear()
    else if (side.shown.kind !== 'readings') side.rest()
    else side.listed = null
  }

  function key(event: KeyboardEvent): void {
    if (event.defaultPrevented) return
    const meant = pressedInStudy(event)
    if (meant === 'close') escape()
    else if (!meant || meant === 'find' || isTyping(event.target)) return
    else if (meant === 'list') list()
    else if (meant === 'back') {
      if (figure.document && !isChoosing(event.target)) figure.edit(returned)
    } else {
      event.preventDefault()
      void (meant === 'redo' ? redo() : undo())
    }
  }

  /** A key that is held is one press, as a drag is. */
  function begins(event: Event): void {
    if (!(event as KeyboardEvent).repeat) history.begins()
  }
  const beginnings = ['pointerdown', 'keydown', 'wheel']

  onMounted(() => {
    window.addEventListener('keydown', key)
    // Before anything that stands inside takes the event for itself.
    for (const name of beginnings)
      window.addEventListener(name, begins, { capture: true, passive: true })
  })
  onBeforeUnmount(() => {
    window.removeEventListener('keydown', key)
    for (const name of beginnings) window.removeEventListener(name, begins, { capture: true })
  })
}
