/** What was done, in words: for those who cannot see it. */
import { defineStore } from 'pinia'
import { ref } from 'vue'

export const useAnnouncer = defineStore('said', () => {
  const deed = ref('')
  /** Counts what was said, so that the same words twice are said twice. */
  const count = ref(0)

  function say(words: string): void {
    deed.value = words
    count.value += 1
  }

  return { deed, count, say }
})
