/** A first draft of a caption, from the statement and the readings. */
import type { Answer, FigureDocument } from '@/api/types'
import { levelText, shareText } from '@/drawing/numbers'
import { readOffLines } from '@/readings/writing'
import { figureName, inSentence, type Look } from '@/words'

export function captionOf(
  document: FigureDocument,
  answer: Answer,
  number: number,
  variable: Look,
): string {
  const words = (name: string) => inSentence(variable(document.table, name) ?? { label: name })
  const parts = [`${figureName({ ...document, name: null }, variable)}${by(document, words)}`]
  for (const { report, family_label } of answer.trends) {
    if (report.problem !== null) continue
    const whom = report.group === null ? '' : `${report.group}, `
    const said = [
      report.r_squared == null ? '' : `R² = ${shareText(report.r_squared)}`,
      `n = ${report.n.toLocaleString('en')}`,
    ].filter(Boolean)
    const equation = report.equation ? `: ${report.equation}` : ''
    parts.push(`${whom}${family_label}${equation} (${said.join(', ')})`)
    parts.push(...readOffLines(report))
  }
  const bands = document.trends[0]?.bands ?? []
  if (bands.length)
    parts.push(bands.map(({ kind, level }) => `band: ${levelText(level)} ${kind}`).join(', '))
  if (!answer.trends.length && answer.association)
    parts.push(`r = ${shareText(answer.association.r)}, n = ${answer.association.n}`)
  if (answer.counts.set_aside) parts.push(`${answer.counts.set_aside} set aside, drawn hollow`)
  return `Figure ${number}. ${parts.join('; ')}.`
}

function by(document: FigureDocument, words: (name: string) => string): string {
  const parts = [
    document.size?.variable && `sized by ${words(document.size.variable)}`,
    document.colour && `coloured by ${words(document.colour.variable)}`,
  ].filter(Boolean)
  return parts.length ? `, ${parts.join(', ')}` : ''
}
