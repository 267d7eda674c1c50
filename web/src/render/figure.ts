/** What a figure is drawn from, whatever its kind. */
import type { Answer, FigureDocument, Marks } from '@/api/types'

export interface RenderedFigure {
  document: FigureDocument
  answer: Answer
  marks: Marks
  /** The code of a category, where all others are faded for a moment. */
  only?: number | null
  /** Its place among the figures of its study, from 1. */
  number?: number
}
