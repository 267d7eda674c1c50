/** Words for variables and figures, in one place. */
import type { FigureDocument, Kind, VariableSummary } from '@/api/types'

/** A variable inside a sentence: its label, without the capital that it starts with. */
export function inSentence({ label }: { label: string }): string {
  const first = label.split(/[ -]/, 1)[0]
  const plain = first.length > 1 && /^[A-Z][a-z]+$/.test(first)
  return plain ? label[0].toLowerCase() + label.slice(1) : label
}

export const onAxis = ({ kind }: VariableSummary): boolean => kind === 'number' || kind === 'date'

/** Words joined as a sentence does: with commas, and "and" before the last. */
export const joined = (words: string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`

export type Look = (table: string, name: string) => VariableSummary | null

/** What a figure is called: its own name, or what it shows. */
export function figureName(document: FigureDocument, variable: Look): string {
  if (document.name) return document.name
  const words = (name: string) => variable(document.table, name) ?? { label: name }
  if (document.kind === 'scatterplot matrix' && document.matrix) {
    const [head, ...rest] = document.matrix.variables.map(words)
    return `${joined([head.label, ...rest.map(inSentence)])} against each other`
  }
  const [first, ...others] = document.y.map(words)
  const up = joined([first.label, ...others.map(inSentence)])
  return `${up} against ${inSentence(words(document.x))}`
}

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
