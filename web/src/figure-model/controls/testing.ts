/** What the tests of the controls share: a document with all parts, and values to give each control. */
import {
  blankBar,
  blankColour,
  blankConnect,
  blankDistribution,
  blankDocument,
  blankLettering,
  blankMatrix,
  blankNames,
  blankPlane,
  blankPlate,
  blankReference,
  blankSize,
  blankSpace,
  blankTrend,
} from '@/figure-model/blank'
import type { FigureDocument, PlateDocument, VariableSummary } from '@/api/types'
import { allControls } from '.'
import type { AnyScope, Control, Scope } from './control'
import { WRITTEN } from './lettering'

const variables = ['x', 'y', 'z'].map(
  (name) => ({ name, label: name.toUpperCase(), kind: 'number', distinct: 9 }) as VariableSummary,
)

/** A document in which everything is there that can be. */
export function full(): FigureDocument {
  const document = blankDocument('t', 'x', 'y')
  return {
    ...document,
    size: blankSize('z'),
    colour: { ...blankColour('z', 'amount'), ramp: 'tide' },
    names: { ...blankNames('z', 'furthest'), moved: { 7: [8, -20] } },
    connect: blankConnect(),
    error_bars: { x: blankBar(), y: blankBar() },
    marks: { ...document.marks, outline: { colour: null, width: 1 } },
    legend: { ...document.legend, place: 'free' },
    readings: { ...document.readings, place: 'free' },
    page: { ...document.page, venue: 'own' },
    type: {
      ...document.type,
      parts: Object.fromEntries(Object.keys(WRITTEN).map((part) => [part, blankLettering()])),
    },
    axes: { ...document.axes, x: { ...document.axes.x, scale: 'log' } },
    trends: [
      {
        ...blankTrend('straight', null),
        weights: 'z',
        read_off: [{ at: 3, level: null, name: null, group: null }],
      },
    ],
    references: [
      { ...blankReference(), axis: 'x', at: 'range', value: 2, high: 4 },
      { ...blankReference(), axis: 'y', at: 'value', value: 2 },
    ],
    notes: [{ text: 'Note', anchor: 'page', x: 0.2, y: 0.3, points_to: [3, 4] }],
    singled_out: [{ rows: [7], colour: null, shape: null, size: 1.6, name: null }],
    distribution: { ...blankDistribution('y', 'z'), histogram: true, density: true },
    space: { ...blankSpace('z'), plane: blankPlane(null) },
    matrix: { ...blankMatrix(['x', 'y']), below: 'trend', above: 'r' },
  }
}

/** A plate of one figure, as it begins. */
export const fullPlate = (): PlateDocument =>
  blankPlate(
    [{ figure: '00000000-0000-4000-8000-000000000000', varied: null, heading: null }],
    false,
  )

export const scopeOf = (document: FigureDocument): Scope => ({
  document,
  drawn: null,
  variables,
  needsRows: '',
})
export const all = allControls(
  full(),
  ['A.1', 'B'].map((value, code) => ({ value, label: value, code })),
  7,
)
export const shown = (control: { label: string; at: string }): string =>
  `${control.label} (${control.at})`

/** Values that a person can give a control. */
export function values<S extends AnyScope>(control: Control<S>, scope: S): unknown[] {
  switch (control.kind) {
    case 'choice':
      return control.options.map(({ value }) => value)
    case 'select':
      return control.options(scope).map(({ value }) => value)
    case 'slider':
      return [control.min, control.max, control.min + (control.step ?? 1)]
    case 'text':
      return [control.numeric ? '80' : '10; 20']
    case 'place':
      return [3, null]
    case 'colour':
      return ['#123456', ...(control.none ? [null] : [])]
    case 'shape':
      return ['square', ...(control.none ? [null] : [])]
    case 'toggle':
      return [true, false]
  }
}
