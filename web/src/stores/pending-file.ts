/** A file that was brought before a study was open: it is read in by the study that is made for it. */
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

export const useArrival = defineStore('arrival', () => {
  const waiting = shallowRef<{ study: string; file: File } | null>(null)

  /** The file for a study, once. */
  function take(study: string): File | null {
    const found = waiting.value?.study === study ? waiting.value.file : null
    if (found) waiting.value = null
    return found
  }

  return { waiting, take }
})
