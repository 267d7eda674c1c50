/**
 * The focus is never lost: where what had it is taken away, it goes to what came in its place, or to
 * the nearest thing that is still there.
 */
import { onBeforeUnmount, onMounted } from 'vue'

const FOCUSABLE =
  'button:not(:disabled), a[href], input:not(:disabled), select, textarea, [tabindex="0"]'

/** The focus has time to be given by whoever means to. */
const WAITS_MS = 60

const PARTS = '[data-opens], main, nav, aside, header, .ui-panel'
/** Where lists and questions open. */
const OVER = '.v-overlay-container'
const isOver = (line: readonly HTMLElement[]): boolean => line.some((one) => one.matches(OVER))

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
  /** The same of what lay under a list or a question that had it then. */
  let under: HTMLElement[] = []
  let added = new Set<Node>()
  let waiting = 0

  function focused({ target }: FocusEvent): void {
    if (line.length && !isOver(line)) under = line
    line = []
    for (let e = target instanceof HTMLElement ? target : null; e; e = e.parentElement) line.push(e)
    added = new Set()
  }

  function restore(): void {
    if (!line.length || line[0].isConnected || document.activeElement !== document.body) return
    const around = (isOver(line) ? under : line).filter(({ isConnected }) => isConnected)
    // No further out than the part of the page that it stood in.
    const end = around.findIndex((one) => one.matches(PARTS))
    const near = around.slice(0, end + 1)
    const itself = near[0]?.matches(FOCUSABLE) ? near[0] : null
    const inPlace = near
      .map((one) => firstIn([...added].filter((node) => one.contains(node))))
      .find(Boolean)
    const next = itself ?? inPlace ?? firstIn(near)
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
