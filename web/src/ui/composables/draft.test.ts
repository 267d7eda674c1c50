import { describe, expect, it, vi } from 'vitest'
import { nextTick, ref } from 'vue'
import { useDraft } from './draft'

function field(text: string) {
  const value = ref(text)
  const commit = vi.fn()
  const draft = useDraft(() => value.value, commit)
  return { value, commit, ...draft }
}

const escape = () => {
  const event = { key: 'Escape', preventDefault: vi.fn(), stopPropagation: vi.fn() }
  return event as unknown as KeyboardEvent & typeof event
}

describe('a field that is typed into', () => {
  it('keeps what is typed, whatever arrives meanwhile', async () => {
    const { value, shown, focused, typed } = field('dew')
    focused(true)
    typed('dew p')
    value.value = 'rain'
    await nextTick()
    expect(shown.value).toBe('dew p')
  })

  it('shows what arrives while nobody types', async () => {
    const { value, shown, focused } = field('dew')
    focused(true)
    value.value = 'rain'
    await nextTick()
    expect(shown.value).toBe('rain')
  })

  it('takes back what was typed by Escape, which means nothing else then', () => {
    const { shown, focused, typed, key, commit } = field('dew')
    focused(true)
    typed('fog')
    const first = escape()
    key(first)
    expect(shown.value).toBe('dew')
    expect(first.stopPropagation).toHaveBeenCalled()
    const second = escape()
    key(second)
    expect(second.stopPropagation).not.toHaveBeenCalled()
    expect(commit).not.toHaveBeenCalled()
  })

  it('leaves what was refused to be mended', () => {
    const { shown, focused, typed, changed, commit } = field('3')
    focused(true)
    typed('three')
    changed()
    focused(false)
    expect(commit).toHaveBeenCalledWith('three')
    expect(shown.value).toBe('three')
  })

  it('shows what came meanwhile where it was typed back', async () => {
    const { value, shown, focused, typed } = field('dew')
    focused(true)
    typed('de')
    typed('dew')
    value.value = 'rain'
    await nextTick()
    focused(false)
    expect(shown.value).toBe('rain')
  })
})
