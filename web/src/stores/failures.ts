/** The one place where failures become words for the person, also those that nobody awaits. */
import { ref } from 'vue'
import { Problem } from '@/api/client'

/** What is said now; empty where nothing is. */
export const failure = ref('')

/** Says what went wrong. What was not foreseen is also written down for whoever mends it. */
export function tell(error: unknown): void {
  if (error instanceof DOMException && error.name === 'AbortError') return
  if (error instanceof Problem) {
    failure.value = error.sentence
    return
  }
  const said = error instanceof Error ? error.message : String(error)
  failure.value = `Something went wrong on this page: ${said}. What is saved is safe; load the page again if it stays so.`
  console.error(error)
}

/** Promises that nobody awaits fail here. */
export function listen(): void {
  window.addEventListener('unhandledrejection', (event) => {
    event.preventDefault()
    tell(event.reason)
  })
}
