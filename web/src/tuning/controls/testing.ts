/** What the tests of the controls share: a document with all parts, and values to give each control. */
import {
  blankBar,
  blankColour,
  blankConnect,
  blankDocument,
  blankLettering,
  blankMatrix,
  blankNames,
  blankSize,
  blankTrend,
} from '@/api/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { allControls } from '.'
import type { Control, Scope } from './control'
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
    names: blankNames('z', 'furthest'),
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
    trends: [{ ...blankTrend('straight', null), weights: 'z' }],
    notes: [{ text: 'Note', anchor: 'page', x: 0.2, y: 0.3, points_to: null }],
    matrix: { ...blankMatrix(['x', 'y']), below: 'trend', above: 'r' },
  }
}

export const scopeOf = (document: FigureDocument): Scope => ({ document, drawn: null, variables })
export const all = allControls(full())
export const shown = (control: Control): string => `${control.label} (${control.at})`

/** Values that a person can give a control. */
export function values(control: Control, scope: Scope): unknown[] {
  switch (control.kind) {
    case 'choice':
      return control.options.map(({ value }) => value)
    case 'select':
      return control.options(scope).map(({ value }) => value)
    case 'slider':
      return [control.min, control.max, control.min + (control.step ?? 1)]
    case 'text':
      return ['10; 20']
    case 'place':
      return [3, null]
    case 'colour':
      return ['#123456', ...(control.none ? [null] : [])]
    case 'shape':
      return ['square']
  }
}
