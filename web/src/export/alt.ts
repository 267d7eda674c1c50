/** What a picture shows, for people who cannot see it. */
import { captionText } from '@/drawing/text/caption'
import { asPlain } from '@/drawing/text/text'
import type { Figure } from '@/drawing/drawn'
import { sentenceOf } from '@/kinds'
import type { Look } from '@/model/words'

export function altOf({ document, answer, number }: Figure, look: Look): string {
  const sentence = sentenceOf(document, look)
  const caption = captionText(document.caption, document, answer, number ?? null)
  return caption ? `${sentence} ${asPlain(caption)}` : sentence
}
