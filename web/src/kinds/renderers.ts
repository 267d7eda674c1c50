/** The kinds of figure as they are drawn, here and on shared pages. */
import type { FigureDocument } from '@/api/types'
import type { Figure } from '@/render/figure'
import type { Scene } from '@/render/scene'
import type { Measure } from '@/render/text/text'
import type { DrawnKind } from './renderer'
import { distribution } from '@/kinds/distribution/drawing'
import { matrix } from '@/kinds/matrix/drawing'
import { scatterplot } from '@/kinds/scatterplot/drawing'
import { space } from '@/kinds/space/drawing'

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
