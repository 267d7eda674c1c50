/** Words for variables and figures, in one place. */
import type { Figure, FigureDocument, Kind, PlateDocument, VariableSummary } from '@/api/types'

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

/** What a plate is called: its own name or title, or what its figures are. */
export function plateName(plate: PlateDocument, figures: readonly Figure[], look: Look): string {
  if (plate.name ?? plate.title) return (plate.name ?? plate.title)!
  const first = figures.find(({ id }) => id === plate.cells[0].figure)
  const name = first ? figureName(first.document, look) : 'Figures'
  const { figure, varied } = plate.cells[0]
  if (varied && plate.cells.every((cell) => alike(cell, figure, varied)))
    return `${name} by ${thingName(varied, (v) => inSentence(look(first?.document.table ?? '', v) ?? { label: v }))}`
  return plate.cells.length === 1 ? name : `${name} and ${countOf(plate.cells.length - 1, 'other')}`
}

type Varied = NonNullable<PlateDocument['cells'][number]['varied']>

const alike = (cell: PlateDocument['cells'][number], figure: string, { thing }: Varied): boolean =>
  cell.figure === figure && cell.varied?.thing === thing

function thingName(varied: Varied, variable: (name: string) => string): string {
  switch (varied.thing) {
    case 'level':
      return 'level'
    case 'form':
      return 'form of trend'
    case 'category':
      return variable(varied.variable)
    case 'x':
      return 'what goes across'
    case 'y':
      return 'what goes up'
  }
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
