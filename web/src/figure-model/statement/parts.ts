/**
 * The statement as data: a sentence of words and controls, made from a document by its kind, and
 * shown twice: as controls on the page, and as plain text for files and for those who cannot see.
 */
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { Part } from '@/render/scene'
import { inSentence, type Look } from '@/figure-model/words'
import type { Option } from './options'

/** What a variable can be on a figure. */
export type Role = 'y' | 'another y' | 'x' | 'z' | 'colour' | 'size' | 'labels' | 'by' | 'matrix'

/** A word that opens a list of what could stand in its place. */
export interface ChoicePart {
  kind: 'choice'
  /** What a variable that is chosen here becomes. */
  role?: Role
  /** What is chosen, for a screen reader. */
  label: string
  text: string
  options: Pick[]
  /** Makes one more of what is typed, where the list is open. */
  typed?: (text: string) => Pick | null
  hint?: string
  /** Why it is off. */
  why?: string
}

/** One of a list, and what choosing it does. */
export interface Pick {
  label: string
  /** The variable that it puts on the figure. */
  variable?: string
  sign?: string
  note?: string
  isChosen: boolean
  pick: () => void
}

/** A word that does something. */
export interface ActPart {
  kind: 'act'
  label: string
  text: string
  act: () => void
  /** Why it is off. */
  why?: string
}

export type StatementPart =
  | { kind: 'text'; text: string }
  | ChoicePart
  | ActPart
  /** Which rows are shown; empty where all are. */
  | { kind: 'rows'; text: string }

export interface Statement {
  sentence: StatementPart[]
  /** What could be added. */
  offers: (ChoicePart | ActPart)[]
}

/** What a statement is made from, and what its words can do. */
export interface StatementContext {
  document: FigureDocument
  variables: readonly VariableSummary[]
  look: Look
  /** Marks on the figure. */
  drawn: number
  /** Why what needs all rows is off; empty where they are together. */
  needsRows: string
  edit: (change: (draft: FigureDocument) => void) => void
  tune: (part: Part) => void
  /** The same, with one of its controls lit. */
  seek: (part: Part, control: string) => void
  showPairs: () => void
}

const nothing = (): void => undefined

/** The ground of a statement that is only read. */
export const readOnly = (document: FigureDocument, look: Look): StatementContext => ({
  document,
  variables: (document.rows?.conditions ?? []).flatMap(
    ({ variable }) => look(document.table, variable) ?? [],
  ),
  look,
  drawn: 0,
  needsRows: '',
  edit: nothing,
  tune: nothing,
  seek: nothing,
  showPairs: nothing,
})

export const text = (words: string): StatementPart => ({ kind: 'text', text: words })

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b)

interface Chosen<Value> {
  label: string
  role?: Role
  /** What stands there; what is chosen is called, where left out. */
  text?: string
  options: readonly Option<Value>[]
  chosen?: Value
  choose: (value: Value) => void
  typed?: (text: string) => Option<Value> | null
  hint?: string
}

export function choice<Value>(given: Chosen<Value>): ChoicePart {
  const { label, role, options, chosen, choose, typed, hint } = given
  const pickOf = (option: Option<Value>): Pick => ({
    label: option.label,
    variable: role && typeof option.value === 'string' ? option.value : undefined,
    sign: option.sign,
    note: option.note,
    isChosen: chosen !== undefined && same(option.value, chosen),
    pick: () => choose(option.value),
  })
  return {
    kind: 'choice',
    label,
    role,
    text: given.text ?? options.find(({ value }) => same(value, chosen))?.label ?? '',
    options: options.map(pickOf),
    typed:
      typed &&
      ((words) => {
        const made = typed(words)
        return made && pickOf(made)
      }),
    hint,
  }
}

export const act = (label: string, words: string, does: () => void): ActPart => ({
  kind: 'act',
  label,
  text: words,
  act: does,
})

/** Offers of what needs all rows together; where they never are, each says why it is off. */
export const needingRows = <Offer extends ChoicePart | ActPart>(
  { needsRows }: StatementContext,
  offers: Offer[],
): Offer[] => (needsRows ? offers.map((offer) => ({ ...offer, why: needsRows })) : offers)

/** The sentence as it reads. */
export const plainText = ({ sentence }: Statement): string =>
  sentence
    .map((part) => (part.kind === 'rows' && part.text ? ` · rows: ${part.text}` : part.text))
    .join('')

/** How variables are called: at the head of a sentence, and inside it. */
export function namesOf({ document, look }: { document: FigureDocument; look: Look }) {
  const variable = (name: string) => look(document.table, name)
  return {
    variable,
    label: (name: string): string => variable(name)?.label ?? name,
    within: (name: string): string => inSentence(variable(name) ?? { label: name }),
  }
}

/** What parts of a list stand between its words. */
export const between = (place: number, count: number): string =>
  place === 0 ? '' : place === count - 1 ? ' and ' : ', '

/** The article before a band: "a 95 % band", "an 80 % band", "no band". */
export function articleOf(band: string): string {
  if (band.startsWith('no ') || /^\d+(, | and )/.test(band)) return ''
  return band.startsWith('8') ? 'an' : 'a'
}
