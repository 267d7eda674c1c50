/** Rows that are highlighted, and where the name of a row stands. */
import type { FigureDocument } from '@/api/types'
import {
  colour,
  points,
  shape,
  share,
  slider,
  unless,
  words,
  type Control,
  type Scope,
} from './control'

type Single = FigureDocument['singled_out'][number]

/** The look of rows that are highlighted together. */
export const singledControls = (nth: number): Control[] => [
  colour({
    at: `singled_out.${nth}.colour`,
    label: 'Colour of this point',
    find: 'highlight highlighted',
    none: 'as it was',
  }),
  shape({
    at: `singled_out.${nth}.shape`,
    label: 'Marker of this point',
    find: 'highlight highlighted symbol',
    none: 'as it was',
  }),
  share({
    at: `singled_out.${nth}.size`,
    label: 'Size of this point',
    find: 'highlight highlighted bigger',
    min: 30,
    max: 500,
    step: 10,
    read: ({ document }: Scope) => (document.singled_out[nth] as Single | undefined)?.size ?? 1,
  }),
  words({
    at: `singled_out.${nth}.name`,
    label: 'In the legend as',
    find: 'highlight highlighted key',
    maxlength: 500,
    placeholder: 'none',
  }),
]

/** How far the name of a row was moved from its mark, where it was. */
export const movedControls = (row: number): Control[] =>
  (['Name, to the right', 'Name, down'] as const).map((label, axis) => {
    const own = ({ document }: Pick<Scope, 'document'>) => document.names?.moved[String(row)]
    return slider({
      at: `names.moved.${row}`,
      label,
      find: 'move label of a point',
      min: -200,
      max: 200,
      off: unless((scope) => own(scope) !== undefined, 'The name stands where it found room.'),
      text: points,
      read: (scope) => Math.round(own(scope)?.[axis] ?? 0),
      write: (draft, value) => {
        const to = [...own({ document: draft })!] as [number, number]
        to[axis] = value
        draft.names!.moved[String(row)] = to
      },
    })
  })
