/**
 * Keys of a study, and whether those of one letter or sign mean something: who speaks to the machine
 * turns them off, as words that are said may be taken for them.
 */
import { ref, watch } from 'vue'
import { pressed } from '@/figure-model/keys'

const KEPT = 'yarrowdew single keys'
const OFF = 'off'

export const singleKeys = ref(localStorage.getItem(KEPT) !== OFF)
watch(singleKeys, (isOn) => localStorage.setItem(KEPT, isOn ? 'on' : OFF))

/** What was pressed means anywhere in a study; null where it means nothing. */
export function pressedInStudy(event: KeyboardEvent): ReturnType<typeof pressed<'study'>> {
  const isSingle = event.key.length === 1 && !event.ctrlKey && !event.metaKey
  return isSingle && !singleKeys.value ? null : pressed('study', event)
}
