import { effectScope, nextTick, ref } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { byAndBy } from './idle-list'

describe('a long list', () => {
  const idle: (() => void)[] = []
  beforeEach(() => {
    idle.length = 0
    vi.stubGlobal('requestIdleCallback', (then: () => void) => idle.push(then))
    vi.stubGlobal('cancelIdleCallback', vi.fn())
  })
  afterEach(() => vi.unstubAllGlobals())

  const rows = (count: number) => Array.from({ length: count }, (_, place) => place)

  it('comes by and by, in order, and wholly', async () => {
    const list = ref(rows(0))
    const shown = effectScope().run(() => byAndBy(() => list.value))!
    expect(idle).toHaveLength(0)
    list.value = rows(40)
    await nextTick()
    expect(shown.value).toEqual(rows(16))
    idle[0]!()
    expect(shown.value).toEqual(rows(32))
    idle[1]!()
    expect(shown.value).toEqual(rows(40))
    expect(idle).toHaveLength(2)
  })

  it('shows what is added and taken away later', async () => {
    const list = ref(rows(16))
    const shown = effectScope().run(() => byAndBy(() => list.value))!
    expect(shown.value).toEqual(rows(16))
    list.value = rows(17)
    await nextTick()
    idle[0]!()
    expect(shown.value).toEqual(rows(17))
    list.value = rows(3)
    await nextTick()
    expect(shown.value).toEqual(rows(3))
    expect(idle).toHaveLength(1)
  })
})
