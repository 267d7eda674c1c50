/** The scene of a figure, whatever its kind. */
import { layoutFigure, type Figure } from './layout'
import { layoutMatrix } from './matrix'
import type { Scene } from './scene'
import type { Measure } from './text'

export const sceneOf = (figure: Figure, measure: Measure): Scene =>
  figure.document.kind === 'scatterplot matrix' && figure.answer.matrix
    ? layoutMatrix(figure, measure).scene
    : layoutFigure(figure, measure).scene
