/** The statement as plain text: what a figure shows, for those who cannot see it and for files. */
import type { FigureDocument, VariableSummary } from '@/api/types'
import { figureName, inSentence, type Look } from '@/words'
import { filterWords } from './filter-words'
import { familyLabel } from '@/model/families'
import { bandLabel, DIAGONALS, regionLabel } from './options'

export function sentenceOf(document: FigureDocument, variable: Look): string {
  if (document.kind === 'scatterplot matrix' && document.matrix) return ofMatrix(document, variable)
  const words = (name: string) => inSentence(variable(document.table, name) ?? { label: name })
  const parts = [
    document.size &&
      `sized by ${document.size.variable ? words(document.size.variable) : 'influence'}`,
    document.colour && `coloured by ${words(document.colour.variable)}`,
    document.names && `named by ${words(document.names.variable)}`,
  ]
  const by = parts.filter(Boolean).map((part) => `, ${part}`)
  const bars = (document.error_bars.x ?? document.error_bars.y) ? ', with error bars' : ''
  const trends = document.trends.map(({ family, by, bands }) => {
    const whom = by ? `each ${words(by)}` : 'the whole'
    const band = bandLabel(bands)
    return ` · trend: ${familyLabel(family)} for ${whom} with ${articleOf(band)} ${band}`.replace(
      '  ',
      ' ',
    )
  })
  const rows = document.rows
    ? ` · rows: ${filterWords(document.rows, lookup(document, variable))}`
    : ''
  return (
    figureName({ ...document, name: null }, variable) + by.join('') + bars + trends.join('') + rows
  )
}

function ofMatrix(document: FigureDocument, variable: Look): string {
  const matrix = document.matrix!
  const colour = document.colour
    ? `, coloured by ${inSentence(variable(document.table, document.colour.variable) ?? { label: document.colour.variable })}`
    : ''
  const diagonal = DIAGONALS.find(({ value }) => value === matrix.diagonal)!.label
  return (
    `${figureName({ ...document, name: null }, variable)}${colour}` +
    ` · below: ${regionLabel(matrix, 'below')} · above: ${regionLabel(matrix, 'above')}` +
    ` · diagonal: ${diagonal}`
  )
}

/** The variables that a document's filter looks at. */
const lookup = ({ table, rows }: FigureDocument, variable: Look): VariableSummary[] =>
  (rows?.conditions ?? []).flatMap((c) => variable(table, c.variable) ?? [])

/** The article before a band: "a 95 % band", "an 80 % band", "no band". */
export function articleOf(band: string): string {
  if (band.startsWith('no ') || /^\d+(, | and )/.test(band)) return ''
  return band.startsWith('8') ? 'an' : 'a'
}
