/**
 * A control of a figure, declared once: what it is called, by which words people look for it, where
 * in the document it stands, what it can be, and when it applies. Panels show declarations; the list
 * of all of them is what finding, keys and the docs are made from.
 */
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { Figure } from '@/drawing/drawn'
import type { Part } from '@/drawing/scene'
import { at, put, type Path } from '@/model/path'

/** What a control is judged by: the document, and what is drawn of it. */
export interface Scope {
  document: FigureDocument
  drawn: Figure | null
  variables: readonly VariableSummary[]
}

export interface Option<Value> {
  value: Value
  label: string
}

interface Common<Value> {
  /** Where it stands in the document. */
  at: Path
  label: string
  /** Other words by which people look for it. */
  find?: string
  /** Why it does not apply as the figure stands; empty where it does. */
  off?: (scope: Scope) => string
  /** What it shows, where that is not what stands at its place. */
  read?: (scope: Scope) => Value
  /** What it changes, where that is not what stands at its place. */
  write?: (draft: FigureDocument, value: Value, scope: Scope) => void
}

export interface ChoiceControl extends Common<Plain> {
  kind: 'choice'
  options: readonly Option<Plain>[]
}

export interface SelectControl extends Common<string | null> {
  kind: 'select'
  options: (scope: Scope) => readonly Option<string | null>[]
}

export interface SliderControl extends Common<number> {
  kind: 'slider'
  min: number
  max: number
  step?: number
  text: (value: number, scope: Scope) => string
}

export interface TextControl extends Common<string> {
  kind: 'text'
  maxlength: number
  placeholder?: string
  /** Changed with every letter, rather than when it is left. */
  live?: boolean
  lines?: number
}

export interface PlaceControl extends Common<number | null> {
  kind: 'place'
  placeholder?: (scope: Scope) => string
  isDate?: (scope: Scope) => boolean
  check?: (value: number | null, scope: Scope) => string
}

export interface ColourControl extends Common<string | null> {
  kind: 'colour'
  none?: string
}

export interface ShapeControl extends Common<string | null> {
  kind: 'shape'
  none?: string
}

export type Plain = string | number | boolean | null

export type Control =
  | ChoiceControl
  | SelectControl
  | SliderControl
  | TextControl
  | PlaceControl
  | ColourControl
  | ShapeControl

/** Controls that stand under one heading; side by side where they are short. */
export interface Group {
  /** The part of the figure in whose panel they stand. */
  part: Part
  heading: string
  controls: Control[]
}

type Declared<Kind extends Control['kind']> = Omit<Extract<Control, { kind: Kind }>, 'kind'>

export const choice = <Value extends Plain>(
  given: Omit<Declared<'choice'>, 'options' | 'read' | 'write'> & {
    options: readonly Option<Value>[]
    read?: (scope: Scope) => Value
    write?: (draft: FigureDocument, value: Value, scope: Scope) => void
  },
): Control => ({ kind: 'choice', ...given }) as ChoiceControl
export const select = (given: Declared<'select'>): Control => ({ kind: 'select', ...given })
export const slider = (given: Declared<'slider'>): Control => ({ kind: 'slider', ...given })
export const text = (given: Declared<'text'>): Control => ({ kind: 'text', ...given })
export const place = (given: Declared<'place'>): Control => ({ kind: 'place', ...given })
export const colour = (given: Declared<'colour'>): Control => ({ kind: 'colour', ...given })
export const shape = (given: Declared<'shape'>): Control => ({ kind: 'shape', ...given })

/** A share, set as percent. */
export const share = (
  given: Omit<Declared<'slider'>, 'text' | 'min' | 'max' | 'read' | 'write'> & {
    min?: number
    max?: number
    text?: (percent: number, scope: Scope) => string
    read?: (scope: Scope) => number
    write?: (draft: FigureDocument, share: number, scope: Scope) => void
  },
): Control => {
  const { read, write } = given
  return slider({
    min: 0,
    max: 100,
    text: (percent) => `${percent} %`,
    ...given,
    read: (scope) =>
      Math.round((read ? read(scope) : (at(scope.document, given.at) as number)) * 100),
    write: (draft, percent, scope) =>
      write ? write(draft, percent / 100, scope) : put(draft, given.at, percent / 100),
  })
}

export const valueOf = (control: Control, scope: Scope): unknown =>
  control.read ? control.read(scope) : at(scope.document, control.at)

/** Quick changes of one control are one step of undo where they come as one movement. */
export const undoKey = (control: Control): string =>
  control.kind === 'slider' ||
  control.kind === 'colour' ||
  (control.kind === 'text' && control.live)
    ? control.at
    : ''

export function change(
  control: Control,
  scope: Scope,
  value: unknown,
): (draft: FigureDocument) => void {
  const write = control.write as ((draft: FigureDocument, v: unknown, s: Scope) => void) | undefined
  return (draft) => (write ? write(draft, value, scope) : put(draft, control.at, value))
}

export const points = (value: number): string => `${value} pt`
export const applies = (control: Control, scope: Scope): boolean => !control.off?.(scope)
export const unless =
  (holds: (scope: Scope) => boolean, why: string) =>
  (scope: Scope): string =>
    holds(scope) ? '' : why

export const isDate =
  (side: 'x' | 'y') =>
  ({ drawn }: Scope): boolean =>
    drawn?.answer[side].variable.kind === 'date'
