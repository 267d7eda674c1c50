/** What a picture shows, for people who cannot see it. */
import { captionText } from '@/render/text/caption'
import { asPlain } from '@/render/text/text'
import type { RenderedFigure } from '@/render/figure'
import { sentenceOf } from '@/kinds'
import type { Look } from '@/figure-model/words'

export function altOf({ document, answer, number }: RenderedFigure, look: Look): string {
  const sentence = sentenceOf(document, look)
  const caption = captionText(document.caption, document, answer, number ?? null)
  return caption ? `${sentence} ${asPlain(caption)}` : sentence
}
