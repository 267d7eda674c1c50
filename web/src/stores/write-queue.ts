/** Changes on their way to the server: one after the other, each over what the last one left. */
import { ref } from 'vue'
import { take } from '@/api/client'

export function useWriting() {
  /** How many changes are on their way to the server. */
  const writing = ref(0)

  let queue: Promise<unknown> = Promise.resolve()

  /**
   * Sends a change once those before it have their answer, so that each is made over what the last
   * one left; the page says that it saves until the server has answered.
   */
  function write<T>(
    send: () => Parameters<typeof take<T>>[0],
    keepAnswer: (made: T) => void = () => undefined,
  ): Promise<T> {
    writing.value++
    const sent = queue.then(async () => {
      const made = await take<T>(send())
      // Before the next change is sent: it is made over what this one left.
      keepAnswer(made)
      return made
    })
    queue = sent.catch(() => undefined)
    return sent.finally(() => writing.value--)
  }

  /** Waits until every change that is on its way has its answer, and is a step that can be undone. */
  async function settled(): Promise<void> {
    while (writing.value) {
      await queue
      // What follows from the answer comes first.
      await new Promise((resolve) => setTimeout(resolve))
    }
  }

  return { writing, write, settled }
}
