/** A long list: its first lines are there at once, the others as soon as nothing else is waited for. */
import { computed, onScopeDispose, ref, watch, type ComputedRef } from 'vue'

const AT_ONCE = 16

export function byAndBy<T>(list: () => readonly T[]): ComputedRef<readonly T[]> {
  const count = ref(AT_ONCE)
  let waiting = 0
  const goOn = (): void => {
    if (waiting || count.value >= list().length) return
    waiting = requestIdleCallback(() => {
      waiting = 0
      count.value += AT_ONCE
      goOn()
    })
  }
  watch(() => list().length, goOn, { immediate: true })
  onScopeDispose(() => cancelIdleCallback(waiting))
  return computed(() => list().slice(0, count.value))
}
