/**
 * Every change of a study, in order: what undo takes back and redo does again. It is kept for this
 * tab of the browser, so that it outlives a reload.
 */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type {
  CategoryLook,
  FigureDocument,
  PlateDocument,
  SavedFilter,
  SavedFormula,
  SavedLook,
} from '@/api/types'
import { VOCABULARY } from '@/figure-model/vocabulary'

const MOST_STEPS = 200
/** Changes of one control within this time are one step. */
const ONE_STEP_MS = 600
/** Of documents. */
const VERSION = String(VOCABULARY.defaults.FigureDocument.version)

/** What a study holds under a name, to be used again. */
export type Saved =
  | { of: 'filter'; value: SavedFilter }
  | { of: 'look'; value: SavedLook }
  | { of: 'formula'; value: SavedFormula }

/** One act, and what it acted on: how that was before, and how it is after. */
export type Step =
  | { kind: 'figure'; id: string; before: FigureDocument; after: FigureDocument }
  | { kind: 'plate'; id: string; before: PlateDocument; after: PlateDocument }
  | { kind: 'table'; id: string; before: number; after: number }
  | { kind: 'categories'; id: string; before: CategoryLook[]; after: CategoryLook[] }
  | { kind: 'name'; id: string; before: string; after: string }
  /** Whether a figure, a plate or a table is there: added, or deleted. */
  | {
      kind: 'there'
      of: 'figure' | 'plate' | 'table'
      id: string
      before: boolean
      after: boolean
      /** The figure that came with a table. */
      figure?: string
    }
  /** Null where nothing was kept under that name. */
  | { kind: 'saved'; id: string; before: Saved | null; after: Saved | null }

export const useHistory = defineStore('history', () => {
  const study = ref('')
  const steps = shallowRef<Step[]>([])
  /** How many of the steps hold; those after it were undone. */
  const held = ref(0)
  /** How often the hand began something: a press, a key, a turn of the wheel. */
  let begun = 0
  let last = { what: '', at: 0, begun: 0 }

  const canUndo = computed(() => held.value > 0)
  const canRedo = computed(() => held.value < steps.value.length)

  /** Each step is kept by itself, so that a change writes one step and not all of them. */
  let numbers: number[] = []
  let written = new Map<number, Step>()

  /** Steps hold documents: those of another version are let be. */
  const key = (id: string): string => `yarrowdew steps ${id} ${VERSION}`
  const stepKey = (number: number): string => `${key(study.value)} ${number}`

  function open(id: string): void {
    if (study.value === id) return
    study.value = id
    last = { what: '', at: 0, begun: 0 }
    const kept = JSON.parse(sessionStorage.getItem(key(id)) ?? 'null') as {
      numbers: number[]
      held: number
    } | null
    const found = (kept?.numbers ?? []).map((number) => sessionStorage.getItem(stepKey(number)))
    // A step that is gone takes those before it along: they could not be taken back in order.
    const from = found.lastIndexOf(null) + 1
    numbers = (kept?.numbers ?? []).slice(from)
    steps.value = found.slice(from).map((text) => JSON.parse(text!) as Step)
    held.value = Math.max(0, (kept?.held ?? 0) - from)
    written = new Map(numbers.map((number, i) => [number, steps.value[i]]))
  }

  /** Takes other steps, each under the number that it had. */
  function take(next: Step[]): void {
    const known = new Map(steps.value.map((step, i) => [step, numbers[i]]))
    let fresh = Math.max(0, ...numbers)
    numbers = next.map((step) => known.get(step) ?? (fresh += 1))
    steps.value = next
  }

  /** Writes what is not written yet; the oldest are let go of where the browser has no room. */
  function keep(): void {
    for (;;) {
      try {
        for (const number of written.keys())
          if (!numbers.includes(number)) {
            sessionStorage.removeItem(stepKey(number))
            written.delete(number)
          }
        numbers.forEach((number, i) => {
          if (written.get(number) === steps.value[i]) return
          sessionStorage.setItem(stepKey(number), JSON.stringify(steps.value[i]))
          written.set(number, steps.value[i])
        })
        const index = { numbers, held: held.value }
        sessionStorage.setItem(key(study.value), JSON.stringify(index))
        return
      } catch (error) {
        if (!(error instanceof DOMException)) throw error
        // Full: with fewer steps it fits.
        if (steps.value.length < 2) return
        const fewer = Math.min(20, steps.value.length - 1)
        take(steps.value.slice(fewer))
        held.value = Math.max(0, held.value - fewer)
      }
    }
  }

  /** The hand begins anew: what it changes until it does so again is one step, however long it takes. */
  function begins(): void {
    begun += 1
  }

  /**
   * Takes note of a change.
   *
   * @param what names a control whose changes in quick succession, or by one press, are one step
   */
  function record(step: Step, what = ''): void {
    const now = Date.now()
    const done = steps.value.slice(0, held.value)
    const before = done.at(-1)
    const continues =
      what !== '' &&
      what === last.what &&
      (now - last.at < ONE_STEP_MS || (begun > 0 && begun === last.begun)) &&
      before?.kind === step.kind &&
      before.id === step.id
    last = { what, at: now, begun }
    const whole = continues ? ({ ...step, before: before.before } as Step) : step
    const others = continues ? done.slice(0, -1) : done
    // What has come back to where it began was no change.
    const isNone = continues && JSON.stringify(whole.before) === JSON.stringify(whole.after)
    take([...others, ...(isNone ? [] : [whole])].slice(-MOST_STEPS))
    held.value = steps.value.length
    keep()
  }

  /** The step that is taken back, or done again; null where there is none. */
  function move(by: -1 | 1): Step | null {
    const step = steps.value[by < 0 ? held.value - 1 : held.value] ?? null
    if (!step) return null
    held.value += by
    last = { what: '', at: 0, begun: 0 }
    keep()
    return step
  }

  /** The step that undo would take back. */
  const newest = (): Step | null => steps.value[held.value - 1] ?? null

  /** Forgets the last step, which was no change after all. */
  function drop(): void {
    if (!held.value) return
    take([...steps.value.slice(0, held.value - 1)])
    held.value = steps.value.length
    keep()
  }

  /** Forgets what is no longer there, or no longer as it was known here. */
  function forget(kind: Step['kind'], id: string): void {
    const gone = (step: Step): boolean => step.kind === kind && step.id === id
    held.value -= steps.value.slice(0, held.value).filter(gone).length
    take(steps.value.filter((step) => !gone(step)))
    keep()
  }

  return { canUndo, canRedo, open, begins, record, move, last: newest, drop, forget }
})
