/**
 * What stands in a field whose words stay while they are typed, whatever arrives meanwhile. What was
 * typed and refused stays to be mended. Escape takes back what was typed, and means nothing else then.
 */
import { ref, watch } from 'vue'

/**
 * @param value what the field shows where nobody types
 * @param commit takes over what was typed, when the field is left or Enter is pressed
 * @param live is told of every letter
 */
export function useDraft(
  value: () => string,
  commit: (text: string) => void,
  live: (text: string) => void = () => undefined,
) {
  const shown = ref(value())
  let hasFocus = false
  let isDraft = false
  /** What it showed when it got the focus. */
  let before = shown.value

  function show(): void {
    isDraft = false
    shown.value = value()
  }

  watch(value, (text) => {
    // Taken over while it is typed: then it is no draft.
    if (shown.value === text) isDraft = false
    if (!isDraft || !hasFocus) show()
  })

  function typed(text: string | null): void {
    isDraft = true
    shown.value = text ?? ''
    live(shown.value)
  }

  function changed(): void {
    isDraft = false
    commit(shown.value)
  }

  function focused(now: boolean): void {
    hasFocus = now
    if (now) before = shown.value
    // Typed and typed back again: what came meanwhile is shown now.
    else if (shown.value === before) show()
  }

  function key(event: KeyboardEvent): void {
    if (event.key !== 'Escape' || !isDraft) return
    show()
    event.preventDefault()
    event.stopPropagation()
  }

  return { shown, typed, changed, focused, key }
}
