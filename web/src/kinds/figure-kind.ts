/** What a kind of figure knows of itself, without components. */
import type { FigureDocument, OnFigure } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { Part } from '@/render/scene'
import type { Look } from '@/figure-model/words'
import type {
  ActPart,
  ChoicePart,
  StatementContext,
  Statement,
} from '@/figure-model/statement/parts'

export interface TunablePart {
  part: Part
  label: string
}

/** What of a kind is fitted: lines, or planes. */
export interface FittedPart {
  /** Where each says which of its readings stand on the figure. */
  of: (document: FigureDocument) => { on_figure: OnFigure[] }[]
  /** Readings that it never has. */
  never: readonly OnFigure[]
  /** Whether its forms can be compared. */
  isCompared: boolean
  /** What to do where nothing is fitted yet. */
  offer: string
  add: (draft: FigureDocument) => void
  /** Fits each category by itself. */
  each: (draft: FigureDocument, by: string) => void
}

export interface FigureKind {
  /** What a figure is called that has no name of its own. */
  name: (document: FigureDocument, look: Look) => string
  statement: (ground: StatementContext) => Statement
  /** How a figure of another kind can become one of this; null where it cannot. */
  offer?: (ground: StatementContext) => ChoicePart | ActPart | null
  /** The way back from one of its parts that is shown by itself; whether there was one. */
  returnTo?: (draft: FigureDocument) => boolean
  /** Whether one variable across, and those up, can be changed from figure to figure of a plate. */
  isOfPair: boolean
  /** Whether it can be seen from elsewhere. */
  isTurned?: boolean
  /** Whether a line is fitted in it. */
  hasTrend: (document: FigureDocument) => boolean
  /** What is fitted in it; null where nothing is by itself. */
  fitted: FittedPart | null
  /** The parts that are tuned, for those who do not click on the figure. */
  tunable: (figure: RenderedFigure) => TunablePart[]
}
