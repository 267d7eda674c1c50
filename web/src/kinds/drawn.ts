/** The kinds of figure as they are drawn, here and on shared pages. */
import type { FigureDocument } from '@/api/types'
import type { Figure } from '@/drawing/drawn'
import type { Scene } from '@/drawing/scene'
import type { Measure } from '@/drawing/text/text'
import type { DrawnKind } from './drawn-kind'
import { distribution } from './distribution/drawing'
import { matrix } from './matrix/drawing'
import { scatterplot } from './scatterplot/drawing'
import { space } from './space/drawing'

const DRAWN: Record<FigureDocument['kind'], DrawnKind> = {
  scatterplot,
  'scatterplot matrix': matrix,
  '3-D scatterplot': space,
  distribution,
}

export const drawnKind = ({ kind }: Pick<FigureDocument, 'kind'>): DrawnKind => DRAWN[kind]

export const sceneOf = (figure: Figure, measure: Measure): Scene =>
  drawnKind(figure.document).scene(figure, measure)

export const thumbnail = (figure: Figure, width: number, height: number): Scene =>
  drawnKind(figure.document).thumbnail(figure, width, height)
