/** What a plate is called. */
import type { Figure, PlateDocument } from '@/api/types'
import { figureName } from '@/kinds'
import { countOf, inSentence, type Look } from '@/figure-model/words'

/** What a plate is called: its own name or title, or what its figures are. */
export function plateName(plate: PlateDocument, figures: readonly Figure[], look: Look): string {
  if (plate.name ?? plate.title) return (plate.name ?? plate.title)!
  const first = figures.find(({ id }) => id === plate.cells[0].figure)
  const name = first ? figureName(first.document, look) : 'Figures'
  const { figure, varied } = plate.cells[0]
  if (varied && plate.cells.every((cell) => alike(cell, figure, varied)))
    return `${name} by ${thingName(varied, (v) => inSentence(look(first?.document.table ?? '', v) ?? { label: v }))}`
  return plate.cells.length === 1 ? name : `${name} and ${countOf(plate.cells.length - 1, 'other')}`
}

type Varied = NonNullable<PlateDocument['cells'][number]['varied']>

const alike = (cell: PlateDocument['cells'][number], figure: string, { thing }: Varied): boolean =>
  cell.figure === figure && cell.varied?.thing === thing

function thingName(varied: Varied, variable: (name: string) => string): string {
  switch (varied.thing) {
    case 'level':
      return 'level'
    case 'form':
      return 'form of trend'
    case 'category':
      return variable(varied.variable)
    case 'turn':
      return 'view'
    case 'x':
      return 'x variable'
    case 'y':
      return 'y variable'
  }
}
