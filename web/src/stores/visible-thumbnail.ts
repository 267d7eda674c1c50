/** Small pictures are drawn once they can be seen: a long list costs no more than a short one. */
import { onBeforeUnmount, onMounted, watch, type Ref, type WatchSource } from 'vue'
import { recall, remember } from '@/stores/thumbnail-cache'

const QUIET_MS = 150

/**
 * Draws when the canvas is in sight, and again when a source changes while it is; the picture that
 * was drawn last stands there until then.
 *
 * @param id of what is drawn
 * @param draw false where it could not be; its signal says that nobody waits for it any more
 */
export function drawnInSight(
  id: string,
  element: Readonly<Ref<HTMLCanvasElement | null>>,
  source: WatchSource,
  draw: (signal: AbortSignal) => Promise<boolean>,
): void {
  let seen = false
  let stale = true
  let waiting = 0
  let current = new AbortController()
  const drawAndKeep = async (): Promise<void> => {
    current.abort()
    const { signal } = (current = new AbortController())
    const isDrawn = await draw(signal)
    if (signal.aborted || !isDrawn || !element.value) return
    element.value.dataset.seen = 'yes'
    remember(id, element.value)
  }
  const redraw = (): void => {
    if (!seen) return
    stale = false
    // The figure itself comes first, and a hand that still moves it.
    clearTimeout(waiting)
    waiting = window.setTimeout(() => void drawAndKeep(), QUIET_MS)
  }
  const observer = new IntersectionObserver((entries) => {
    seen = entries.at(-1)?.isIntersecting ?? false
    if (stale) redraw()
  })
  onMounted(() => {
    recall(id, element.value!)
    observer.observe(element.value!)
  })
  onBeforeUnmount(() => {
    observer.disconnect()
    clearTimeout(waiting)
    current.abort()
  })
  watch(source, () => {
    stale = true
    redraw()
  })
}
