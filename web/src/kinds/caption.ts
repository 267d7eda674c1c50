/** A first draft of a caption: the statement in words, and the readings in braces. */
import type { Answer, FigureDocument } from '@/api/types'
import { fitsOf } from '@/render/fits'
import { fieldText, type Field } from '@/render/text/caption'
import { inSentence, type Look } from '@/figure-model/words'
import { figureName } from '@/kinds'

/** What is filled in stays true when data change; `captionText` fills it in. */
export function captionOf(document: FigureDocument, answer: Answer, variable: Look): string {
  const words = (name: string) => inSentence(variable(document.table, name) ?? { label: name })
  const has = (field: Field) => fieldText(field, document, answer, 1) !== ''
  const parts = [`${figureName({ ...document, name: null }, variable)}${by(document, words)}`]
  if (has('fits')) parts.push('{fits}')
  if (has('fits') && has('bands')) parts.push('band: {bands}')
  if (!fitsOf(answer).length && answer.association) parts.push('r = {r}, n = {n}')
  if (answer.counts.set_aside) parts.push('{set aside} set aside, drawn hollow')
  return `Figure {number}. ${parts.join('; ')}.`
}

function by(document: FigureDocument, words: (name: string) => string): string {
  const parts = [
    document.size?.variable && `sized by ${words(document.size.variable)}`,
    document.colour && `coloured by ${words(document.colour.variable)}`,
  ].filter(Boolean)
  return parts.length ? `, ${parts.join(', ')}` : ''
}
