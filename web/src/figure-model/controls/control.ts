/**
 * A control of a figure, declared once: what it is called, by which words people look for it, where
 * in the document it stands, what it can be, and when it applies. Panels show declarations; the list
 * of all of them is what finding, keys and the docs are made from.
 */
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { parseLevel } from '@/figure-model/parse'
import { at, put, type PathOf } from '@/figure-model/path'

/** What a control of a figure is judged by: the document, and what is drawn of it. */
export interface Scope {
  document: FigureDocument
  drawn: RenderedFigure | null
  variables: readonly VariableSummary[]
  /** Why what needs all rows is off; empty where they are together. */
  needsRows: string
}

/** What the controls of any document are judged by: at least the document. */
export interface AnyScope {
  document: object
}

export interface Option<Value> {
  value: Value
  label: string
}

interface Common<Value, S extends AnyScope> {
  /** Where it stands in the document. */
  at: PathOf<S['document']>
  label: string
  /** Other words by which people look for it. */
  find?: string
  /** Its label is for a screen reader only, where what stands beside it says what it is. */
  bare?: boolean
  /** Why it does not apply as things stand; empty where it does. */
  off?: (scope: S) => string
  /** What it shows, where that is not what stands at its place. */
  read?: (scope: S) => Value
  /** What it changes, where that is not what stands at its place. */
  write?: (draft: S['document'], value: Value, scope: S) => void
}

export interface ChoiceControl<S extends AnyScope = Scope> extends Common<Plain, S> {
  kind: 'choice'
  options: readonly Option<Plain>[]
}

export interface SelectControl<S extends AnyScope = Scope> extends Common<string | null, S> {
  kind: 'select'
  options: (scope: S) => readonly Option<string | null>[]
}

export interface SliderControl<S extends AnyScope = Scope> extends Common<number, S> {
  kind: 'slider'
  min: number
  max: number
  step?: number
  text: (value: number, scope: S) => string
}

export interface TextControl<S extends AnyScope = Scope> extends Common<string, S> {
  kind: 'text'
  maxlength: number
  placeholder?: string
  /** Changed with every letter, rather than when it is left. */
  live?: boolean
  lines?: number
  /** A number in words, in a short field. */
  numeric?: boolean
  check?: (value: string, scope: S) => string
}

export interface PlaceControl<S extends AnyScope = Scope> extends Common<number | null, S> {
  kind: 'place'
  placeholder?: (scope: S) => string
  isDate?: (scope: S) => boolean
  check?: (value: number | null, scope: S) => string
}

export interface ColourControl<S extends AnyScope = Scope> extends Common<string | null, S> {
  kind: 'colour'
  none?: string
}

export interface ShapeControl<S extends AnyScope = Scope> extends Common<string | null, S> {
  kind: 'shape'
  none?: string
}

/** Something that is so or not so; its words say which, where its label alone does not. */
export interface ToggleControl<S extends AnyScope = Scope> extends Common<boolean, S> {
  kind: 'toggle'
  words?: readonly [yes: string, no: string]
}

export type Plain = string | number | boolean | null

export type Control<S extends AnyScope = Scope> =
  | ChoiceControl<S>
  | SelectControl<S>
  | SliderControl<S>
  | TextControl<S>
  | PlaceControl<S>
  | ColourControl<S>
  | ShapeControl<S>
  | ToggleControl<S>

type Declared<Kind extends Control['kind'], S extends AnyScope> = Omit<
  Extract<Control<S>, { kind: Kind }>,
  'kind'
>

export const choice = <Value extends Plain, S extends AnyScope = Scope>(
  given: Omit<Declared<'choice', S>, 'options' | 'read' | 'write'> & {
    options: readonly Option<Value>[]
    read?: (scope: S) => Value
    write?: (draft: S['document'], value: Value, scope: S) => void
  },
): Control<S> => ({ kind: 'choice', ...given }) as unknown as ChoiceControl<S>
export const select = <S extends AnyScope = Scope>(given: Declared<'select', S>) =>
  ({ kind: 'select', ...given }) as Control<S>
export const slider = <S extends AnyScope = Scope>(given: Declared<'slider', S>) =>
  ({ kind: 'slider', ...given }) as Control<S>
export const text = <S extends AnyScope = Scope>(given: Declared<'text', S>) =>
  ({ kind: 'text', ...given }) as Control<S>
export const place = <S extends AnyScope = Scope>(given: Declared<'place', S>) =>
  ({ kind: 'place', ...given }) as Control<S>
export const colour = <S extends AnyScope = Scope>(given: Declared<'colour', S>) =>
  ({ kind: 'colour', ...given }) as Control<S>
export const shape = <S extends AnyScope = Scope>(given: Declared<'shape', S>) =>
  ({ kind: 'shape', ...given }) as Control<S>
export const toggle = <S extends AnyScope = Scope>(given: Declared<'toggle', S>) =>
  ({ kind: 'toggle', ...given }) as Control<S>

/** A share, set as percent. */
export const share = <S extends AnyScope = Scope>(
  given: Omit<Declared<'slider', S>, 'text' | 'min' | 'max' | 'read' | 'write'> & {
    min?: number
    max?: number
    text?: (percent: number, scope: S) => string
    read?: (scope: S) => number
    write?: (draft: S['document'], share: number, scope: S) => void
  },
): Control<S> => {
  const { read, write } = given
  return {
    kind: 'slider',
    min: 0,
    max: 100,
    text: (percent: number) => `${percent} %`,
    ...given,
    read: (scope: S) =>
      Math.round((read ? read(scope) : (at(scope.document, given.at) as number)) * 100),
    write: (draft: S['document'], percent: number, scope: S) =>
      write ? write(draft, percent / 100, scope) : put(draft, given.at, percent / 100),
  } as Control<S>
}

/** Words that may be none: an empty field takes them away. */
export const words = <S extends AnyScope = Scope>(
  given: Omit<Declared<'text', S>, 'read' | 'write'>,
): Control<S> =>
  text<S>({
    ...given,
    read: (scope) => (at(scope.document, given.at) as string | null | undefined) ?? '',
    write: (draft, said) => put(draft, given.at, said.trim() === '' ? null : said),
  } as Declared<'text', S>)

/** The level of an interval, typed as percent. */
export const level = <S extends AnyScope = Scope>(
  given: Omit<Declared<'text', S>, 'read' | 'write' | 'check' | 'maxlength' | 'numeric'> & {
    write?: (draft: S['document'], level: number) => void
  },
): Control<S> =>
  text<S>({
    ...given,
    maxlength: 8,
    numeric: true,
    check: (typed) => (parseLevel(typed) === null ? 'Type a level from 50 to 99.9 %.' : ''),
    read: (scope) =>
      String(Number(((at(scope.document, given.at) as number) * 100).toPrecision(4))),
    write: (draft, typed) => {
      const level = parseLevel(typed)!
      if (given.write) given.write(draft, level)
      else put(draft, given.at, level)
    },
  } as Declared<'text', S>)

/** Tells a control from every other. */
export const controlKey = ({ at, label }: Pick<Control, 'at' | 'label'>): string => `${at} ${label}`

export const valueOf = <S extends AnyScope>(control: Control<S>, scope: S): unknown =>
  control.read ? control.read(scope) : at(scope.document, control.at)

/** Quick changes of one control are one step of undo where they come as one movement. */
export const undoKey = <S extends AnyScope>(control: Control<S>): string =>
  control.kind === 'slider' ||
  control.kind === 'colour' ||
  (control.kind === 'text' && control.live)
    ? `${control.at} ${control.label}`
    : ''

export function change<S extends AnyScope>(
  control: Control<S>,
  scope: S,
  value: unknown,
): (draft: S['document']) => void {
  const write = control.write as ((draft: S['document'], v: unknown, s: S) => void) | undefined
  return (draft) => (write ? write(draft, value, scope) : put(draft, control.at, value))
}

export const points = (value: number): string => `${value} pt`
export const applies = <S extends AnyScope>(control: Control<S>, scope: S): boolean =>
  !control.off?.(scope)
export const unless =
  <S extends AnyScope = Scope>(holds: (scope: S) => boolean, why: string) =>
  (scope: S): string =>
    holds(scope) ? '' : why

/** What is off where rows are never together; not where it is set, so that it can be taken back. */
export const ofRows =
  (isSet: (scope: Scope) => unknown) =>
  (scope: Scope): string =>
    isSet(scope) ? '' : scope.needsRows

export const isDate =
  (side: 'x' | 'y' | 'depth') =>
  ({ drawn }: Scope): boolean =>
    (side === 'depth' ? drawn?.answer.space?.depth : drawn?.answer[side])?.variable.kind === 'date'
