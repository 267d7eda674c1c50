/** A long list: its first lines are there at once, the others as soon as nothing else is waited for. */
import { computed, onScopeDispose, ref, watch, type ComputedRef } from 'vue'

const AT_ONCE = 16

/** Once the browser has nothing else to do; some browsers cannot tell, and wait a moment instead. */
const whenIdle = (work: () => void): (() => void) => {
  if ('requestIdleCallback' in globalThis) {
    const idle = requestIdleCallback(work)
    return () => cancelIdleCallback(idle)
  }
  const timer = setTimeout(work, 30)
  return () => clearTimeout(timer)
}

export function byAndBy<T>(list: () => readonly T[]): ComputedRef<readonly T[]> {
  const count = ref(AT_ONCE)
  let stop: (() => void) | null = null
  const goOn = (): void => {
    if (stop || count.value >= list().length) return
    stop = whenIdle(() => {
      stop = null
      count.value += AT_ONCE
      goOn()
    })
  }
  watch(() => list().length, goOn, { immediate: true })
  onScopeDispose(() => stop?.())
  return computed(() => list().slice(0, count.value))
}
