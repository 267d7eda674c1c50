/** The sentence of a plate: how many figures, how they stand, and what they share. */
import type { PlateDocument } from '@/api/types'
import { countOf } from '@/figure-model/words'
import type { Option } from '@/figure-model/statement/options'
import { choice, text, type Statement } from '@/figure-model/statement/parts'
import { letterOf } from './layout'

const MOST = 12

const SHARED: Option<PlateDocument['shared']>[] = [
  { label: 'each its own', value: 'none' },
  { label: 'x shared', value: 'x' },
  { label: 'y shared', value: 'y' },
  { label: 'both shared', value: 'both' },
]
const LEGENDS: Option<PlateDocument['legend']>[] = [
  { label: 'one for all', value: 'shared' },
  { label: 'one in each figure', value: 'each' },
  { label: 'none', value: 'none' },
]
const LOOKS: Option<PlateDocument['look']>[] = [
  { label: 'each its own', value: 'own' },
  { label: 'that of the first', value: 'common' },
]

/** @param figures those of the study, which can be added */
export function plateStatement(
  document: PlateDocument,
  figures: Option<string>[],
  edit: (change: (draft: PlateDocument) => void) => void,
): Statement {
  const count = document.cells.length
  const last = (letters: 'a' | 'A'): string => letterOf(count - 1, letters)
  const letters: Option<PlateDocument['letters']>[] = [
    { label: `a to ${last('a')}`, value: 'a' },
    { label: `A to ${last('A')}`, value: 'A' },
    { label: 'without letters', value: 'none' },
  ]
  const set = <Name extends 'letters' | 'shared' | 'legend' | 'look'>(
    name: Name,
    label: string,
    options: Option<PlateDocument[Name]>[],
  ) =>
    choice({
      label,
      options,
      chosen: document[name],
      choose: (value) => edit((draft) => (draft[name] = value)),
    })
  return {
    sentence: [
      text(`${countOf(count, 'figure')} in `),
      choice({
        label: 'Columns of the plate',
        options: Array.from({ length: count }, (_, i) => ({
          label: countOf(i + 1, 'column'),
          value: i + 1,
        })),
        chosen: Math.min(document.columns, count),
        choose: (columns) =>
          edit((draft) => Object.assign(draft, { columns, widths: [], heights: [] })),
      }),
      text(', lettered '),
      set('letters', 'Letters', letters),
      text(' · axes: '),
      set('shared', 'Shared axes', SHARED),
      text(' · legend: '),
      set('legend', 'Legend of the plate', LEGENDS),
      text(' · look: '),
      set('look', 'Look of the figures', LOOKS),
    ],
    offers:
      count < MOST
        ? [
            choice({
              label: 'Add a figure to the plate',
              text: '+ figure',
              options: figures,
              choose: (figure) =>
                edit((draft) => {
                  draft.cells.push({ figure, varied: null, heading: null })
                  draft.heights = []
                }),
            }),
          ]
        : [],
  }
}
