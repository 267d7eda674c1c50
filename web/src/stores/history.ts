/**
 * Every change of a study, in order: what undo takes back and redo does again. It is kept for this
 * tab of the browser, so that it outlives a reload.
 */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { CategoryLook, FigureDocument, PlateDocument } from '@/api/types'
import { VOCABULARY } from '@/model/vocabulary'

const MOST_STEPS = 200
/** Changes of one control within this time are one step. */
const ONE_STEP_MS = 600
/** Of documents. */
const VERSION = String(VOCABULARY.defaults.FigureDocument.version)

export type Step =
  | { kind: 'figure'; id: string; before: FigureDocument; after: FigureDocument }
  | { kind: 'plate'; id: string; before: PlateDocument; after: PlateDocument }
  | { kind: 'table'; id: string; before: number; after: number }
  | { kind: 'categories'; id: string; before: CategoryLook[]; after: CategoryLook[] }

export const useHistory = defineStore('history', () => {
  const study = ref('')
  const steps = shallowRef<Step[]>([])
  /** How many of the steps hold; those after it were undone. */
  const held = ref(0)
  let last = { what: '', at: 0 }

  const canUndo = computed(() => held.value > 0)
  const canRedo = computed(() => held.value < steps.value.length)

  /** Steps hold documents: those of another version are let be. */
  const key = (id: string): string => `yarrowdew history ${id} ${VERSION}`

  function open(id: string): void {
    if (study.value === id) return
    study.value = id
    last = { what: '', at: 0 }
    const kept = JSON.parse(sessionStorage.getItem(key(id)) ?? 'null') as {
      steps: Step[]
      held: number
    } | null
    steps.value = kept?.steps ?? []
    held.value = kept?.held ?? 0
  }

  /** Keeps the steps; the oldest are let go of where the browser has no room for all. */
  function keep(): void {
    for (let from = 0; from <= steps.value.length; from += 20) {
      const kept = { steps: steps.value.slice(from), held: Math.max(0, held.value - from) }
      try {
        sessionStorage.setItem(key(study.value), JSON.stringify(kept))
        return
      } catch {
        // Full: with fewer steps it fits.
      }
    }
  }

  /**
   * Takes note of a change.
   *
   * @param what names a control whose changes in quick succession are one step
   */
  function record(step: Step, what = ''): void {
    const now = Date.now()
    const done = steps.value.slice(0, held.value)
    const before = done.at(-1)
    const continues =
      what !== '' &&
      what === last.what &&
      now - last.at < ONE_STEP_MS &&
      before?.kind === step.kind &&
      before.id === step.id
    last = { what, at: now }
    const whole = continues ? ({ ...step, before: before.before } as Step) : step
    steps.value = [...(continues ? done.slice(0, -1) : done), whole].slice(-MOST_STEPS)
    held.value = steps.value.length
    keep()
  }

  /** The step that is taken back, or done again; null where there is none. */
  function move(by: -1 | 1): Step | null {
    const step = steps.value[by < 0 ? held.value - 1 : held.value] ?? null
    if (!step) return null
    held.value += by
    last = { what: '', at: 0 }
    keep()
    return step
  }

  /** Forgets what is no longer there, or no longer as it was known here. */
  function forget(kind: Step['kind'], id: string): void {
    const gone = (step: Step): boolean => step.kind === kind && step.id === id
    held.value -= steps.value.slice(0, held.value).filter(gone).length
    steps.value = steps.value.filter((step) => !gone(step))
    keep()
  }

  return { canUndo, canRedo, open, record, move, forget }
})
