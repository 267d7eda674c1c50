/**
 * Saving documents as they are edited: soon, one save at a time, and never over someone else's.
 *
 * What could not be saved is kept, whichever document is open meanwhile, and tried again. What is too
 * long to be sent while the page goes away waits in this browser until it is opened again.
 */
import { computed, reactive, ref } from 'vue'
import { Problem } from '@/api/client'

const DELETED = 'this was deleted in another tab or window.'

const SAVE_AFTER_MS = 250
const RETRY_AFTER_MS = 3000
/** Browsers send no more than 64 KiB of a page that goes away. */
const MOST_SENT_AWAY = 60_000

interface Saved {
  id: string
  revision: number
}

type State = 'saved' | 'saving' | 'failed' | 'refused' | 'outdated'

/** A document that was opened, and how far the server knows it. */
interface Held<Document> {
  id: string
  document: Document
  revision: number
  /** As the server last said that it has it. */
  sent: string
  /** What was sent while the page went away, and is waited for; null where nothing is. */
  left: string | null
  /** What was sent and never answered: whether the server has it is not known. */
  unanswered: string[]
  state: State
}

/** The worst comes first: that is what a person has to know. */
const ORDER: State[] = ['outdated', 'refused', 'failed', 'saving', 'saved']

/**
 * @param send saves a document over the revision that was read; `keepalive` where the page goes away
 * @param kept is told what the server said of it
 * @param kind names the documents, for what waits in the browser
 * @param read fetches a document as the server has it
 */
export function useSaving<Document, Answered extends Saved>(
  send: (id: string, document: Document, revision: number, keepalive: boolean) => Promise<Answered>,
  kept: (saved: Answered) => void,
  kind = 'documents',
  read?: (id: string) => Promise<Answered & { document: Document }>,
) {
  const held = reactive(new Map<string, Held<Document>>()) as Map<string, Held<Document>>
  /** The document that is open. */
  const open = ref<string | null>(null)
  /** Why the server does not take a document as it is. */
  const refusal = ref('')
  let timer: ReturnType<typeof setTimeout> | undefined
  let writing: Promise<void> | null = null
  /** What the save that is under way makes of its document. */
  let underWay: { id: string; text: string } | null = null

  const state = computed<State>(() => {
    const own = open.value === null ? undefined : held.get(open.value)
    // A conflict is settled where its document is open; of others it is known in `conflicts`.
    const others = [...held.values()].filter(({ id }) => id !== open.value).map((one) => one.state)
    const told = [own?.state ?? 'saved', ...others.filter((one) => one !== 'outdated')]
    return ORDER.find((one) => told.includes(one)) ?? 'saved'
  })

  /** Documents that are not open, and that someone else saved first. */
  const conflicts = computed(() =>
    [...held.values()]
      .filter(({ id, state }) => state === 'outdated' && id !== open.value)
      .map(({ id }) => id),
  )

  /** Whether something here would be lost with the page. */
  const isAtRisk = (): boolean =>
    [...held.values()].some((one) => isUnsaved(one) && one.state !== 'saving')

  const isUnsaved = ({ document, sent, unanswered }: Held<Document>): boolean =>
    unanswered.length > 0 || JSON.stringify(document) !== sent

  const isUnderWay = ({ id }: Held<Document>): boolean => underWay?.id === id

  const waits = (one: Held<Document>): boolean =>
    isUnsaved(one) && one.left === null && one.state !== 'outdated' && one.state !== 'refused'

  const draftKey = (id: string): string => `yarrowdew unsaved ${kind} ${id}`

  /** What waited in the browser, and whether the server still has what it was an edit of. */
  function draftOf(
    id: string,
    stored: string,
    revision: number,
  ): { document: Document; isCurrent: boolean } | null {
    try {
      const draft = JSON.parse(localStorage.getItem(draftKey(id)) ?? 'null') as {
        document: Document
        revision: number
        over: string
      } | null
      localStorage.removeItem(draftKey(id))
      if (!draft || JSON.stringify(draft.document) === stored) return null
      const isCurrent = draft.revision === revision || draft.over === stored
      return { document: draft.document, isCurrent }
    } catch {
      return null
    }
  }

  /** Begins with a document as it was read, and returns it as it is: with what is not saved yet. */
  function begin(id: string, document: Document, revision: number): Document {
    open.value = id
    refusal.value = ''
    const known = held.get(id)
    if (known && (isUnsaved(known) || isUnderWay(known))) {
      if (known.state === 'failed') soon()
      return known.document
    }
    const stored = JSON.stringify(document)
    const draft = draftOf(id, stored, revision)
    const own = draft?.document ?? document
    held.set(id, {
      id,
      document: own,
      revision,
      sent: stored,
      left: null,
      unanswered: [],
      state: 'saved',
    })
    // A draft over what is no more is a conflict: whoever opens it chooses.
    if (draft && !draft.isCurrent) held.get(id)!.state = 'outdated'
    else if (draft) changed(draft.document)
    return own
  }

  /** Changes a document that is not open, as it was read. */
  function changeOther(id: string, before: Document, revision: number, next: Document): void {
    if (!held.has(id))
      held.set(id, {
        id,
        document: before,
        revision,
        sent: JSON.stringify(before),
        left: null,
        unanswered: [],
        state: 'saved',
      })
    changed(next, id)
  }

  /** A document as it is here, where it is not saved yet. */
  const unsaved = (id: string): Document | null => held.get(id)?.document ?? null

  /** No document is open any more. */
  function end(): void {
    open.value = null
  }

  /** Lets go of what was changed here. */
  function forget(id: string): void {
    held.delete(id)
  }

  function soon(after = SAVE_AFTER_MS): void {
    clearTimeout(timer)
    timer = setTimeout(() => void save(), after)
  }

  function changed(document: Document, id = open.value): void {
    const own = id === null ? undefined : held.get(id)
    if (!own) return
    own.document = document
    refusal.value = ''
    if (own.state === 'outdated') return
    own.state = 'saving'
    soon()
  }

  /** One save at a time; what changed meanwhile is saved after it. */
  function save(): Promise<void> {
    writing ??= write().finally(() => (writing = null))
    return writing
  }

  async function write(): Promise<void> {
    const tried = new Set<string>()
    for (;;) {
      const one = [...held.values()].find((each) => waits(each) && !tried.has(each.id))
      if (!one) break
      if (!(await wrote(one))) tried.add(one.id)
    }
    settle()
    if ([...held.values()].some(waits)) soon(RETRY_AFTER_MS)
  }

  /** What is as the server has it is saved: also what was changed and changed back meanwhile. */
  function settle(): void {
    for (const one of held.values()) {
      if (isUnsaved(one) || isUnderWay(one)) continue
      one.state = 'saved'
      if (one.id !== open.value) held.delete(one.id)
    }
  }

  async function wrote(one: Held<Document>): Promise<boolean> {
    const text = JSON.stringify(one.document)
    const over = one.revision
    try {
      underWay = { id: one.id, text }
      const saved = await send(one.id, one.document, over, false)
      one.revision = saved.revision
      one.sent = text
      one.unanswered = []
      kept(saved)
      if (!isUnsaved(one)) one.state = 'saved'
      return true
    } catch (error) {
      const status = error instanceof Problem ? error.status : 0
      if (status === 0) one.unanswered.push(text)
      // The revision between may be one that was made from here.
      const isOwn = status === 412 && (one.revision > over || (await reads(one)))
      if (isOwn) return true
      if (status === 412) one.state = isOwn === null ? 'failed' : 'outdated'
      else if (status >= 400 && status < 500 && status !== 429) {
        // The same would be refused for ever: it is sent again when it has changed.
        one.state = JSON.stringify(one.document) === text ? 'refused' : 'saving'
        if (one.state === 'refused')
          refusal.value = status === 404 ? DELETED : (error as Problem).sentence
        else return true
      } else one.state = 'failed'
      return false
    } finally {
      underWay = null
    }
  }

  /** Whether the server has what was sent from here and never answered; null where it does not say. */
  async function reads(one: Held<Document>): Promise<boolean | null> {
    if (!one.unanswered.length || !read) return false
    try {
      const found = await read(one.id)
      return took(one, found, JSON.stringify(found.document))
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      return null
    }
  }

  /** Saves what waits to be saved, now. */
  async function flush(): Promise<void> {
    clearTimeout(timer)
    if (writing) await writing
    if ([...held.values()].some(waits)) await save()
    // The timer that would have found nothing to be saved is gone.
    else settle()
  }

  /** The page goes away: what changed last is sent on its way, or waits in the browser. */
  function leave(): void {
    // Nothing more is sent by itself: the page may come back as it is now.
    clearTimeout(timer)
    for (const one of held.values()) {
      const text = JSON.stringify(one.document)
      const waiting = isUnderWay(one) ? underWay!.text !== text : isUnsaved(one)
      if (!waiting || one.state === 'refused' || one.left === text) continue
      // A save under way makes another revision, so that a second one would be refused.
      const isFree = !writing && one.left === null && one.state !== 'outdated'
      if (isFree && new Blob([text]).size < MOST_SENT_AWAY) {
        one.left = text
        one.unanswered.push(text)
        void send(one.id, one.document, one.revision, true).then(
          (saved) => void took(one, saved, text),
          () => undefined,
        )
      } else
        try {
          const { revision } = one
          const over = isUnderWay(one) ? underWay!.text : ''
          const draft = { document: one.document, revision, over }
          localStorage.setItem(draftKey(one.id), JSON.stringify(draft))
        } catch {
          // There is no room; the last seconds of work are lost with the page.
        }
    }
  }

  /** Takes in that the server has what was sent; false where more is known already. */
  function took(one: Held<Document>, saved: Answered, text: string): boolean {
    if (!one.unanswered.includes(text) || saved.revision <= one.revision) return false
    one.left = null
    one.unanswered = []
    one.revision = saved.revision
    one.sent = text
    kept(saved)
    settle()
    if (waits(one)) soon()
    return true
  }

  /** The page came back as it was: what was sent while it went away may be what the server has. */
  async function comeBack(): Promise<void> {
    // What waited in the browser is still here.
    for (const { id } of held.values()) localStorage.removeItem(draftKey(id))
    for (const one of [...held.values()]) {
      if (one.left === null || !read) continue
      const { left } = one
      try {
        const found = await read(one.id)
        if (one.left !== left) continue
        if (took(one, found, JSON.stringify(found.document))) continue
        // It may still be on its way.
        if (found.revision <= one.revision) one.left = null
        else {
          one.left = null
          one.state = 'outdated'
        }
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        one.left = null
        one.state = 'failed'
      }
    }
    if ([...held.values()].some(waits)) soon()
  }

  /** Someone else saved first, and what is here goes over it. */
  async function insist(revision: number): Promise<void> {
    const own = open.value === null ? undefined : held.get(open.value)
    if (!own) return
    own.revision = revision
    own.state = 'saving'
    own.sent = ''
    await save()
  }

  return {
    state,
    conflicts,
    isAtRisk,
    refusal,
    begin,
    end,
    forget,
    changed,
    changeOther,
    unsaved,
    flush,
    leave,
    comeBack,
    insist,
  }
}
