import { describe, expect, it } from 'vitest'
import { keyList, KEYS, keyText, pressed, type KeyWords } from './keys'

const event = (
  key: string,
  held: Partial<Record<'ctrl' | 'meta' | 'shift' | 'alt', true>> = {},
) => ({
  key,
  ctrlKey: held.ctrl ?? false,
  metaKey: held.meta ?? false,
  shiftKey: held.shift ?? false,
  altKey: held.alt ?? false,
})

describe('keys', () => {
  it('mean one thing each where they hold', () => {
    for (const held of Object.values(KEYS)) {
      const keys = Object.values<KeyWords>(held).flatMap(({ keys }) => keys)
      expect(new Set(keys).size).toBe(keys.length)
    }
  })

  it('are found with what is held beside them, whatever the keyboard', () => {
    expect(pressed('study', event('z', { ctrl: true }))).toBe('undo')
    expect(pressed('study', event('z', { meta: true }))).toBe('undo')
    expect(pressed('study', event('Z', { ctrl: true, shift: true }))).toBe('redo')
    expect(pressed('study', event('z'))).toBeNull()
    expect(pressed('study', event('m', { alt: true }))).toBeNull()
    expect(pressed('study', event('m', { ctrl: true }))).toBeNull()
    // Plus is typed with Shift on one keyboard, without on another.
    expect(pressed('figure', event('+', { shift: true }))).toBe('closer')
    expect(pressed('figure', event('+'))).toBe('closer')
    expect(pressed('figure', event('ArrowUp', { shift: true }))).toBe('moveUp')
    expect(pressed('figure', event('ArrowUp'))).toBe('up')
    expect(pressed('figure', event('0', { ctrl: true }))).toBeNull()
    expect(pressed('figure', event('toString'))).toBeNull()
  })

  it('are written as they stand on the keyboard', () => {
    expect(['Ctrl+Shift+z', '+', '-', 'Shift+ArrowUp', 'F2', 'Escape'].map(keyText)).toEqual([
      'Ctrl+Shift+Z',
      '+',
      '−',
      'Shift+↑',
      'F2',
      'Esc',
    ])
    expect(keyList().every(({ where, keys }) => where && keys.length > 2)).toBe(true)
  })
})
