// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'
import { useGesture, type Gesture } from './gesture'

const at = (x: number, y: number, more: Partial<PointerEvent> = {}): PointerEvent =>
  ({
    clientX: x,
    clientY: y,
    pointerId: 1,
    button: 0,
    currentTarget: null,
    ...more,
  }) as PointerEvent

function pressed(more: Partial<PointerEvent> = {}) {
  const gesture = {
    drag: vi.fn(),
    drop: vi.fn(),
    click: vi.fn(),
    cancel: vi.fn(),
  } satisfies Gesture
  const scope = effectScope()
  const machine = scope.run(() => useGesture(({ clientX, clientY }) => [clientX, clientY]))!
  const isHeld = machine.press(at(10, 10, more), () => gesture)
  return { machine, gesture, isHeld, scope }
}

describe('a gesture of the pointer', () => {
  it('is a click where the pointer did not stray, and a drag where it did', () => {
    const { machine, gesture } = pressed()
    machine.follow(at(11, 11))
    machine.release(at(11, 11))
    expect([gesture.click.mock.calls.length, gesture.drop.mock.calls.length]).toEqual([1, 0])
    expect(machine.wasDragged()).toBe(false)
    const other = pressed()
    other.machine.follow(at(30, 10))
    other.machine.release(at(31, 10))
    expect(other.gesture.drag).toHaveBeenCalledWith(30, 10, expect.anything())
    expect([other.gesture.click.mock.calls.length, other.gesture.drop.mock.calls.length]).toEqual([
      0, 1,
    ])
    expect(other.machine.wasDragged()).toBe(true)
  })

  it('is begun by the main button alone', () => {
    expect(pressed({ button: 2 }).isHeld).toBe(false)
    expect(pressed({ button: 1 }).isHeld).toBe(false)
  })

  it.each(['lost', 'escape', 'second press', 'gone'])('ends without effect: %s', (how) => {
    const { machine, gesture, scope } = pressed()
    machine.follow(at(40, 40))
    if (how === 'lost') machine.lose(at(40, 40))
    else if (how === 'escape') window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }))
    else if (how === 'second press') machine.press(at(0, 0, { pointerId: 2 }), () => null)
    else scope.stop()
    machine.follow(at(60, 60))
    machine.release(at(60, 60))
    expect(gesture.drop).not.toHaveBeenCalled()
    expect(gesture.drag).toHaveBeenCalledTimes(1)
    expect(gesture.cancel).toHaveBeenCalledTimes(how === 'gone' ? 0 : 1)
    expect(machine.isHeld()).toBe(false)
  })

  it('takes Escape for itself, and only while it is held', () => {
    const { machine } = pressed()
    const event = new KeyboardEvent('keydown', { key: 'Escape', cancelable: true })
    window.dispatchEvent(event)
    expect(event.defaultPrevented).toBe(true)
    const later = new KeyboardEvent('keydown', { key: 'Escape', cancelable: true })
    window.dispatchEvent(later)
    expect([later.defaultPrevented, machine.isHeld()]).toEqual([false, false])
  })
})
