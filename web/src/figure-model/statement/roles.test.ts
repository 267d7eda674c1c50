import { describe, expect, it } from 'vitest'
import {
  blankColour,
  blankDistribution,
  blankDocument,
  blankMatrix,
  blankNames,
  blankSize,
  blankSpace,
} from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { statementOf } from '@/kinds'
import { rolesFor } from './roles'

const variables = [
  ['altitude', 'number'],
  ['yield', 'number'],
  ['wind', 'number'],
  ['night', 'date'],
  ['valley', 'category'],
  ['station', 'text'],
].map(([name, kind]) => ({ name, label: name, kind, unit: '', distinct: 30 })) as VariableSummary[]

const KINDS: Record<string, (draft: FigureDocument) => void> = {
  scatterplot: () => undefined,
  'scatterplot with all': (draft) => {
    draft.size = blankSize('wind')
    draft.colour = blankColour('valley')
    draft.names = blankNames('station', 'all')
  },
  distribution: (draft) => {
    draft.kind = 'distribution'
    draft.distribution = blankDistribution('yield', 'valley')
  },
  matrix: (draft) => {
    draft.kind = 'scatterplot matrix'
    draft.matrix = blankMatrix(['altitude', 'yield'])
  },
  '3-D': (draft) => {
    draft.kind = '3-D scatterplot'
    draft.space = blankSpace('wind')
  },
}

/** What a role means in the document, said again by itself. */
const STANDS: Record<string, (document: FigureDocument) => unknown> = {
  y: ({ kind, y, distribution }) => (kind === 'distribution' ? distribution!.variable : y[0]),
  'another y': ({ y }) => y.at(-1),
  x: ({ x }) => x,
  z: ({ space }) => space!.variable,
  colour: ({ colour }) => colour?.variable,
  size: ({ size }) => size?.variable,
  labels: ({ names }) => names?.variable,
  by: ({ distribution }) => distribution!.by,
  matrix: ({ matrix }) => matrix!.variables.at(-1),
}

function rolesIn(document: FigureDocument, variable: string) {
  const look = (_: string, name: string) => variables.find((one) => one.name === name) ?? null
  const nothing = (): void => undefined
  const statement = statementOf({
    document,
    variables,
    look,
    drawn: 20,
    needsRows: '',
    edit: (change) => change(document),
    tune: nothing,
    seek: nothing,
    showPairs: nothing,
  })
  return rolesFor(statement, variable)
}

const figure = (kind: string): FigureDocument => {
  const document = blankDocument('t', 'altitude', 'yield')
  KINDS[kind](document)
  return document
}

describe.each(Object.keys(KINDS))('on a %s', (kind) => {
  it.each(variables.map(({ name }) => name))('%s stands where it was put', (name) => {
    for (const { role, isTaken } of rolesIn(figure(kind), name)) {
      const document = figure(kind)
      expect(isTaken, role).toBe(STANDS[role](document) === name)
      rolesIn(document, name)
        .find((one) => one.role === role)!
        .put()
      expect(STANDS[role](document), role).toBe(name)
    }
  })
})

describe('a variable', () => {
  const roles = (kind: string, name: string) => rolesIn(figure(kind), name).map(({ role }) => role)

  it('has the roles that its kind allows', () => {
    expect(roles('scatterplot', 'wind')).toEqual([
      'y',
      'x',
      'another y',
      'size',
      'colour',
      'labels',
    ])
    expect(roles('scatterplot', 'valley')).toEqual(['colour', 'labels'])
    expect(roles('distribution', 'valley')).toEqual(['by', 'colour', 'labels'])
    expect(roles('matrix', 'wind')).toEqual(['matrix', 'colour'])
    expect(roles('3-D', 'night')).toContain('z')
  })

  it('has none where it is not known', () => {
    expect(roles('scatterplot', 'rain')).toEqual([])
  })
})
