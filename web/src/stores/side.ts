/** What stands beside the figure: the readings or what is looked at; and below it, rows. */
import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'
import type { TableId } from '@/api/references'
import type { Part } from '@/render/scene'

export type Shown =
  | { kind: 'readings' }
  | { kind: 'tuning'; part: Part }
  | { kind: 'variable'; name: string }
  | { kind: 'derive' }
  | { kind: 'table' }
  | { kind: 'selection' }
  | { kind: 'export' }
  | { kind: 'new-plate' }
  | { kind: 'share' }
  | { kind: 'pairs' }
  | { kind: 'compare'; trend: number; group: string | null }

/** Rows of a table that are listed below the figure: some of them, or all where null. */
export interface Listed {
  table: TableId
  rows: number[] | null
  title: string
  /** Whether one begins to type there at once. */
  isBegun?: boolean
}

/** What opened a panel, and how it is found again where it was drawn anew meanwhile. */
export interface Opener {
  element: HTMLElement
  words: string
}

const wordsOf = (element: HTMLElement): string =>
  element.getAttribute('aria-label') ?? element.textContent.trim()

/** The opener as it stands now; null where it is gone. */
export function openerNow({ element, words }: Opener): HTMLElement | null {
  if (element.isConnected) return element
  const all = document.querySelectorAll<HTMLElement>('[data-opens] button')
  return [...all].find((one) => wordsOf(one) === words) ?? null
}

/** A form of trend that is looked at: where its curve would lie on the axes. */
export interface Candidate {
  label: string
  x: number[]
  y: (number | null)[]
}

export const useSide = defineStore('side', () => {
  const shown = ref<Shown>({ kind: 'readings' })

  const listed = ref<Listed | null>(null)

  /** The trend whose residuals stand below the figure. */
  const residuals = ref<number | null>(null)

  /** Forms that are being compared, and which of them is pointed at. */
  const candidates = shallowRef<readonly Candidate[]>([])
  const litCandidate = ref('')

  /** The table that has just arrived: other pairs of it are offered beside its first figure. */
  const arrived = ref<string | null>(null)

  /** The variable that is being dragged from the list. */
  const dragged = ref<{ table: TableId; name: string } | null>(null)

  /** Forgets everything that belongs to a study. */
  function clear(): void {
    rest()
    dragged.value = null
    listed.value = null
    residuals.value = null
    candidates.value = []
    litCandidate.value = ''
    arrived.value = null
  }

  function rest(): void {
    shown.value = { kind: 'readings' }
  }

  /** The control that opened what is shown: the focus goes back to it. */
  const opener = shallowRef<Opener | null>(null)

  function show(what: Shown): void {
    const active = document.activeElement
    opener.value =
      active instanceof HTMLElement && active.closest('[data-opens]')
        ? { element: active, words: wordsOf(active) }
        : null
    sought.value = null
    shown.value = what
  }

  /** Tunes a part of the figure; the readings where the ground was meant. */
  const tune = (part: Part | null): void => {
    if (part === null) rest()
    else show({ kind: 'tuning', part })
  }

  /** The control that was found, in the panel that is shown. */
  const sought = ref<string | null>(null)

  /** Opens the panel of a part with one of its controls lit. */
  function seek(part: Part, control: string): void {
    // The same may be sought twice.
    sought.value = null
    tune(part)
    sought.value = control
  }

  /** Shows a thing, or the readings where it is shown already. */
  const toggle = (what: Shown): void => {
    if (JSON.stringify(shown.value) === JSON.stringify(what)) rest()
    else show(what)
  }

  return {
    candidates,
    litCandidate,
    shown,
    opener,
    arrived,
    dragged,
    sought,
    seek,
    listed,
    residuals,
    clear,
    rest,
    show,
    tune,
    toggle,
  }
})
