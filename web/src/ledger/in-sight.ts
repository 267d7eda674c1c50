/** Small pictures are drawn once they can be seen: a long ledger costs no more than a short one. */
import { onBeforeUnmount, onMounted, watch, type Ref, type WatchSource } from 'vue'

const QUIET_MS = 150

/** Draws when the element is in sight, and again when a source changes while it is. */
export function drawnInSight(
  element: Readonly<Ref<HTMLElement | null>>,
  source: WatchSource,
  draw: () => unknown,
): void {
  let seen = false
  let stale = true
  let waiting = 0
  const redraw = (): void => {
    if (!seen) return
    stale = false
    // The figure itself comes first, and a hand that still moves it.
    clearTimeout(waiting)
    waiting = window.setTimeout(() => void draw(), QUIET_MS)
  }
  const observer = new IntersectionObserver((entries) => {
    seen = entries.at(-1)?.isIntersecting ?? false
    if (stale) redraw()
  })
  onMounted(() => observer.observe(element.value!))
  onBeforeUnmount(() => {
    observer.disconnect()
    clearTimeout(waiting)
  })
  watch(source, () => {
    stale = true
    redraw()
  })
}
