/** The kinds of figure as they are drawn, here and on shared pages. */
import type { FigureDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { Scene } from '@/render/scene'
import type { Measure } from '@/render/text/text'
import type { FigureRenderer } from './renderer'
import { distribution } from '@/kinds/distribution/renderer'
import { matrix } from '@/kinds/matrix/renderer'
import { scatterplot } from '@/kinds/scatterplot/renderer'
import { space } from '@/kinds/space/renderer'

const DRAWN: Record<FigureDocument['kind'], FigureRenderer> = {
  scatterplot,
  'scatterplot matrix': matrix,
  '3-D scatterplot': space,
  distribution,
}

export const drawnKind = ({ kind }: Pick<FigureDocument, 'kind'>): FigureRenderer => DRAWN[kind]

export const sceneOf = (figure: RenderedFigure, measure: Measure): Scene =>
  drawnKind(figure.document).scene(figure, measure)

export const thumbnail = (figure: RenderedFigure, width: number, height: number): Scene =>
  drawnKind(figure.document).thumbnail(figure, width, height)
