/** Saving a document as it is edited: soon, one save at a time, and never over someone else's. */
import { ref } from 'vue'
import { Problem } from '@/api/client'

const SAVE_AFTER_MS = 250
const RETRY_AFTER_MS = 3000

interface Saved {
  id: string
  revision: number
}

/**
 * @param send saves a document over the revision that was read; `keepalive` where the page goes away
 * @param kept is told what the server said of it
 */
export function useSaving<Document, Answered extends Saved>(
  send: (id: string, document: Document, revision: number, keepalive: boolean) => Promise<Answered>,
  kept: (saved: Answered) => void,
) {
  const state = ref<'saved' | 'saving' | 'failed' | 'outdated'>('saved')
  let held: { id: string; document: Document; revision: number } | null = null
  let unsaved = false
  let timer: ReturnType<typeof setTimeout> | undefined
  let writing: Promise<void> | null = null

  /** Begins with a document as it was read. */
  function begin(id: string, document: Document, revision: number): void {
    held = { id, document, revision }
    unsaved = false
    state.value = 'saved'
  }

  function changed(document: Document): void {
    if (!held) return
    held.document = document
    unsaved = true
    state.value = state.value === 'outdated' ? 'outdated' : 'saving'
    clearTimeout(timer)
    timer = setTimeout(() => void save(), SAVE_AFTER_MS)
  }

  /** One save at a time; what changed meanwhile is saved after it. */
  function save(): Promise<void> {
    writing ??= write().finally(() => (writing = null))
    return writing
  }

  async function write(): Promise<void> {
    while (unsaved && state.value !== 'outdated' && held) {
      unsaved = false
      try {
        const saved = await send(held.id, held.document, held.revision, false)
        held.revision = saved.revision
        kept(saved)
        if (!unsaved) state.value = 'saved'
      } catch (error) {
        unsaved = true
        const outdated = error instanceof Problem && error.status === 412
        state.value = outdated ? 'outdated' : 'failed'
        if (!outdated) timer = setTimeout(() => void save(), RETRY_AFTER_MS)
        return
      }
    }
  }

  /** Saves what waits to be saved, now. */
  async function flush(): Promise<void> {
    clearTimeout(timer)
    if (writing) await writing
    if (unsaved) await save()
  }

  /** The page goes away: the last change is sent on its way. */
  function leave(): void {
    if (unsaved && held && state.value !== 'outdated')
      void send(held.id, held.document, held.revision, true).catch(() => undefined)
  }

  /** Someone else saved first, and what is here goes over it. */
  async function insist(revision: number): Promise<void> {
    if (!held) return
    held.revision = revision
    state.value = 'saved'
    unsaved = true
    await save()
  }

  return { state, begin, changed, flush, leave, insist }
}
