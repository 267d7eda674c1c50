/**
 * The focus is never lost: where what had it is taken away, it goes to what came in its place, or to
 * the nearest thing that is still there.
 */
import { onBeforeUnmount, onMounted } from 'vue'

const FOCUSABLE =
  'button:not(:disabled), a[href], input:not(:disabled), select, textarea, [tabindex="0"]'

/** The focus has time to be given by whoever means to. */
const WAITS_MS = 60

const MOST_ADDED = 500

const isSeen = (element: HTMLElement): boolean => element.checkVisibility?.() ?? true

const firstIn = (nodes: Iterable<Node>): HTMLElement | null => {
  for (const node of nodes) {
    if (!(node instanceof HTMLElement) || !node.isConnected) continue
    const all = node.matches(FOCUSABLE) ? [node] : node.querySelectorAll<HTMLElement>(FOCUSABLE)
    for (const one of all) if (isSeen(one)) return one
  }
  return null
}

export function useFocusKept(): void {
  /** What had the focus last, and what it stood in, the innermost first. */
  let line: HTMLElement[] = []
  let added = new Set<Node>()
  let waiting = 0

  function focused({ target }: FocusEvent): void {
    line = []
    for (let e = target instanceof HTMLElement ? target : null; e; e = e.parentElement) line.push(e)
    added = new Set()
  }

  function restore(): void {
    const [last, ...around] = line
    if (!last || last.isConnected || document.activeElement !== document.body) return
    const near = around.find((one) => one.isConnected && one !== document.body)
    if (!near) return
    const inPlace = [...added].filter((node) => near.contains(node))
    const next = firstIn(inPlace) ?? firstIn([near])
    next?.focus({ preventScroll: true })
  }

  const observer = new MutationObserver((changes) => {
    if (!line.length) return
    for (const { addedNodes } of changes) for (const node of addedNodes) added.add(node)
    // Rows that scroll by are not what came in its place.
    if (added.size > MOST_ADDED) added = new Set()
    if (line[0].isConnected) return
    clearTimeout(waiting)
    waiting = window.setTimeout(restore, WAITS_MS)
  })

  onMounted(() => {
    document.addEventListener('focusin', focused)
    observer.observe(document.body, { childList: true, subtree: true })
  })
  onBeforeUnmount(() => {
    document.removeEventListener('focusin', focused)
    observer.disconnect()
    clearTimeout(waiting)
  })
}
