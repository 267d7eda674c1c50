/** Whether keys that are pressed now write words somewhere: they are not keys of the page then. */
export function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLTextAreaElement) return true
  if (target instanceof HTMLInputElement)
    // A list that is chosen from shows its choice in a field that nobody types into.
    return (
      !['range', 'checkbox', 'radio', 'button', 'color', 'file'].includes(target.type) &&
      target.inputMode !== 'none'
    )
  return target instanceof HTMLElement && target.isContentEditable
}

/** Whether keys that are pressed now look for one of a list. */
export const isChoosing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.getAttribute('role') === 'combobox'
