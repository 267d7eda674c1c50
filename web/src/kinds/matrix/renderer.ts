/** The scatterplot matrix, drawn. */
import { layoutMatrix } from '@/render/layout/matrix'
import { contains } from '@/render/scene'
import { pairText } from './pair'
import type { FigureRenderer } from '@/kinds/renderer'
import { thumbnail } from './thumbnail'

export const matrix: FigureRenderer = {
  scene: (figure, measure) => layoutMatrix(figure, measure).scene,
  thumbnail,
  axes: null,
  looking: null,
  saying: (figure, measure) => {
    const { cells } = layoutMatrix(figure, measure)
    const { variables } = figure.answer.matrix!
    return (x, y) => {
      const found = cells.find(({ box }) => contains(box, x, y))
      return found ? pairText(found.cell, variables) : ''
    }
  },
  says: ({ answer }) => {
    const { cells, variables } = answer.matrix!
    return cells
      .filter(({ strip, x, y }) => !strip && y > x)
      .map((cell) => `${pairText(cell, variables)}.`)
  },
  hint: 'Hover a pair to read it.',
}
