/** What is known of error bars wherever they are drawn. */
import type { FigureDocument, Marks } from '@/api/types'

export const BAR_OPACITY = 0.85

const FEW = 8_000

/** Whether error bars are so many that they are drawn with their marks, and not as lines. */
export const hasManyBars = (document: FigureDocument, { row }: Pick<Marks, 'row'>): boolean =>
  row.length > FEW && document.marks.text === null
