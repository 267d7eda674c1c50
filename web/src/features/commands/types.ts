/** What can be found, and what it does. */
import type { FigureDocument } from '@/api/types'
import type { Part } from '@/render/scene'
import type { CategoryEntry } from '@/render/entries'
import type { Statement } from '@/figure-model/statement/parts'
import type { Control, Scope } from '@/figure-model/controls/control'
import type { Findable } from './search'

export interface Entry extends Findable {
  kind: 'setting' | 'value' | 'action' | 'variable' | 'figure' | 'row' | 'guide'
  /** Of a setting, the control itself. */
  control?: Control
  /** What choosing it does; null where it cannot be done now. */
  does: (() => unknown) | null
}

/** What can be found whatever is open. */
export interface Offered {
  acts: readonly {
    label: string
    where: string
    find?: string
    why?: string
    does: () => unknown
  }[]
  figures: readonly { label: string; open: () => unknown }[]
  /** Passages of the guide; none before it is there. */
  guide?: readonly { title: string; page: string; open: () => unknown }[]
}

/** What finding works on where a figure is open, and what it can do. */
export interface Findings extends Offered {
  scope: Scope
  statement: Statement
  /** Categories with an entry in the legend. */
  entries: readonly CategoryEntry[]
  /** Categories of the table, by which rows can be kept. */
  categories: readonly { variable: string; value: string; label: string }[]
  rows: number
  seek: (part: Part, control: string) => void
  /** Opens the list of a word of the statement, by its label. */
  word: (label: string) => void
  lookAt: (variable: string) => void
  edit: (change: (draft: FigureDocument) => void) => void
  /** Shows a row, by its place from 1. */
  row: (place: number) => void
}
