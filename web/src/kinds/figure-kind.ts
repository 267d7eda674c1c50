/** What a kind of figure knows of itself, without components. */
import type { FigureDocument } from '@/api/types'
import type { Look } from '@/model/words'
import type { ActPart, Ground, Statement } from '@/statement/parts'

export interface FigureKind {
  /** What a figure is called that has no name of its own. */
  name: (document: FigureDocument, look: Look) => string
  statement: (ground: Ground) => Statement
  /** How a figure of another kind can become one of this; null where it cannot. */
  offer?: (ground: Ground) => ActPart | null
  /** The way back from one of its parts that is shown by itself; whether there was one. */
  returnTo?: (draft: FigureDocument) => boolean
  /** Whether one variable across, and those up, can be changed from figure to figure of a plate. */
  isOfPair: boolean
  /** Whether a line is fitted in it. */
  hasTrend: (document: FigureDocument) => boolean
}
