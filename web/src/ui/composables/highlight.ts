/** Brings what was sought into sight, lit and with the focus in it. */
import { nextTick, onMounted, watch, type Ref } from 'vue'
import { LIT, provideSought } from '@/ui/composables/search-target'

const FIELDS = 'input:not([type=hidden]), button, textarea, [tabindex="0"]'

/** A frame, in which folded parts open. */
const frame = (): Promise<unknown> => new Promise(requestAnimationFrame)

/** @param root what it stands in */
export function useLighting(sought: Ref<string | null>, root: Ref<HTMLElement | null>): void {
  provideSought(sought)

  async function light(): Promise<void> {
    if (sought.value === null) return
    await nextTick()
    await frame()
    await nextTick()
    const found = root.value?.querySelector<HTMLElement>(`[${LIT}]`)
    if (!found) return
    found.scrollIntoView({ block: 'center' })
    const fields = [...found.querySelectorAll<HTMLElement>(FIELDS)]
    const field = found.matches(FIELDS)
      ? found
      : (fields.find((one) => one.tabIndex >= 0) ?? fields[0])
    field?.focus({ preventScroll: true })
  }

  onMounted(light)
  watch(sought, light)
}
