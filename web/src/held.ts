/**
 * A field whose words stay while they are typed, whatever arrives meanwhile: `v-held="text"` in the
 * place of `:value`. What was typed and refused stays to be mended. Escape takes back what was typed,
 * and means nothing else then.
 */
import type { Directive } from 'vue'

type Field = HTMLInputElement | HTMLTextAreaElement

interface Held {
  /** What the field shows where nobody types. */
  text: string
  /** What it showed when it got the focus. */
  before: string
  /** Whether something was typed that is not yet committed. */
  isDraft: boolean
  listening: AbortController
}

const fields = new WeakMap<Field, Held>()

const textOf = (value: unknown): string =>
  value === null || value === undefined ? '' : String(value)

function show(field: Field, own: Held): void {
  own.isDraft = false
  if (field.value !== own.text) field.value = own.text
}

export const held: Directive<Field, unknown> = {
  mounted(field, { value }) {
    const text = textOf(value)
    const listening = new AbortController()
    const own: Held = { text, before: text, isDraft: false, listening }
    fields.set(field, own)
    show(field, own)
    const listen = (name: string, work: (event: Event) => void) =>
      // Before whoever takes the words over: what that makes of them comes after.
      field.addEventListener(name, work, { signal: listening.signal, capture: true })
    listen('focus', () => (own.before = field.value))
    listen('input', () => (own.isDraft = true))
    listen('change', () => (own.isDraft = false))
    // Typed and typed back again: what came meanwhile is shown now.
    listen('blur', () => field.value === own.before && show(field, own))
    listen('keydown', (event) => {
      if ((event as KeyboardEvent).key !== 'Escape' || !own.isDraft) return
      show(field, own)
      event.preventDefault()
      event.stopPropagation()
    })
  },
  updated(field, { value }) {
    const own = fields.get(field)
    const text = textOf(value)
    if (!own || own.text === text) return
    own.text = text
    // Taken over while it is typed: then it is no draft.
    if (field.value === text) own.isDraft = false
    if (!own.isDraft || document.activeElement !== field) show(field, own)
  },
  unmounted(field) {
    fields.get(field)?.listening.abort()
    fields.delete(field)
  },
}

/** Whether keys that are pressed now write words somewhere: they are not keys of the page then. */
export function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLTextAreaElement) return true
  if (target instanceof HTMLInputElement)
    return !['range', 'checkbox', 'radio', 'button', 'color', 'file'].includes(target.type)
  return target instanceof HTMLElement && target.isContentEditable
}
