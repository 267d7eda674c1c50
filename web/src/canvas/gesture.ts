/**
 * One press of the pointer from its beginning to its end: pressed, dragged, released or cancelled.
 *
 * Only the main button begins a gesture; a second finger, Escape, a lost capture and a cancelled
 * pointer end it without effect.
 */
import { onScopeDispose } from 'vue'

/** So far the pointer may stray before a press is a drag, in points. */
const STRAYS = 2

export interface Gesture {
  /** Follows the pointer once it has strayed from where it was pressed. */
  drag?: (x: number, y: number, event: PointerEvent) => void
  /** The pointer was released after a drag. */
  drop?: (x: number, y: number, event: PointerEvent) => void
  /** The pointer was released where it was pressed. */
  click?: (x: number, y: number, event: PointerEvent) => void
  /** Ended without effect: what the drag has changed is given back. */
  cancel?: () => void
}

interface Held {
  gesture: Gesture
  pointer: number
  x: number
  y: number
  hasMoved: boolean
}

/** @param place the pointer's place on the page, in points */
export function useGesture(place: (event: MouseEvent) => [number, number]) {
  let held: Held | null = null
  /** Whether the last press was a drag: the click that follows it means nothing. */
  let wasDragged = false

  function stop(): Held | null {
    const ended = held
    held = null
    window.removeEventListener('keydown', key, true)
    return ended
  }

  function cancel(): void {
    stop()?.gesture.cancel?.()
  }

  /** Ends a gesture whose object has changed meanwhile; nothing is given back. */
  function abandon(): void {
    stop()
  }

  function key(event: KeyboardEvent): void {
    if (event.key !== 'Escape') return
    event.preventDefault()
    event.stopPropagation()
    wasDragged = true
    cancel()
  }

  /** Begins a gesture, where there is one at that place; whether there is. */
  function press(
    event: PointerEvent,
    begin: (x: number, y: number) => Gesture | null | undefined,
  ): boolean {
    wasDragged = false
    if (held) {
      cancel()
      return false
    }
    if (event.button !== 0) return false
    const [x, y] = place(event)
    const gesture = begin(x, y)
    if (!gesture) return false
    held = { gesture, pointer: event.pointerId, x, y, hasMoved: false }
    ;(event.currentTarget as Element | null)?.setPointerCapture(event.pointerId)
    window.addEventListener('keydown', key, true)
    return true
  }

  /** Follows the pointer that is held; false where none is. */
  function follow(event: PointerEvent): boolean {
    if (!held || event.pointerId !== held.pointer) return held !== null
    const [x, y] = place(event)
    held.hasMoved ||= Math.hypot(x - held.x, y - held.y) > STRAYS
    if (held.hasMoved) held.gesture.drag?.(x, y, event)
    return true
  }

  function release(event: PointerEvent): void {
    if (!held || event.pointerId !== held.pointer) return
    const { gesture, hasMoved } = stop()!
    wasDragged = hasMoved
    const [x, y] = place(event)
    if (hasMoved) gesture.drop?.(x, y, event)
    else gesture.click?.(x, y, event)
  }

  /** The browser took the pointer away: a touch that scrolls, a window that opens. */
  function lose(event: PointerEvent): void {
    if (held?.pointer === event.pointerId) cancel()
  }

  onScopeDispose(stop)
  return {
    press,
    follow,
    release,
    lose,
    cancel,
    abandon,
    isHeld: () => held !== null,
    wasDragged: () => wasDragged,
  }
}
