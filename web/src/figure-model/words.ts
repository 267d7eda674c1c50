/** Words for variables and figures, in one place. */
import type { Kind, VariableSummary } from '@/api/types'

/** A variable inside a sentence: its label, without the capital that it starts with. */
export function inSentence({ label }: { label: string }): string {
  const first = label.split(/[ -]/, 1)[0]
  const plain = first.length > 1 && /^[A-Z][a-z]+$/.test(first)
  return plain ? label[0].toLowerCase() + label.slice(1) : label
}

const RESERVED = new Set(['and', 'or', 'not'])

/** A variable as an expression names it, whatever it is called: braces of its own are doubled. */
export const inBraces = (name: string): string =>
  `{${name.replaceAll('{', '{{').replaceAll('}', '}}')}}`

/** A variable as an expression names it: as it is, where it is a plain word. */
export const inExpression = (name: string): string =>
  /^[A-Za-z_]\w*$/.test(name) && !RESERVED.has(name) ? name : inBraces(name)

export const onAxis = ({ kind }: VariableSummary): boolean => kind === 'number' || kind === 'date'

/** A sentence in which a number stands on the line of its name. */
export const unbroken = (sentence: string): string =>
  sentence.replace(/ ([=<>≈]) /g, '\u00a0$1\u00a0')

/** Words joined as a sentence does: with commas, and "and" before the last. */
export const joined = (words: string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`

export type Look = (table: string, name: string) => VariableSummary | null

export const KIND_SIGNS: Record<Kind, string> = {
  number: '1·2',
  category: '◧',
  date: '▦',
  text: 'a',
}

/** A whole number, its thousands parted by thin spaces. */
export const grouped = (count: number): string =>
  count.toLocaleString('en').replaceAll(',', '\u202f')

/** A count with its noun. */
export const countOf = (count: number, noun: string): string =>
  `${grouped(count)} ${noun}${count === 1 ? '' : 's'}`

/** Why what needs all rows of a table is off; empty where they are together. */
export const whyByParts = (table: { dataset?: string | null } | null | undefined): string =>
  table?.dataset ? 'It needs all rows in memory, and a dataset is read in chunks.' : ''
