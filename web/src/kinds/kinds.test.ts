/** The sentences of figures with three axes and of distributions, and what their words change. */
import { describe, expect, it } from 'vitest'
import {
  blankColour,
  blankDocument,
  blankPlane,
  blankSpace,
  blankTrend,
} from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import {
  plainText,
  type ActPart,
  type ChoicePart,
  type StatementContext,
} from '@/figure-model/statement/parts'
import { kindOf, sentenceOf, statementOf } from '.'
import { distributionOf } from './distribution'
import { shapesOf, SHAPES, showAs } from '@/kinds/distribution/shapes'

const variable = (name: string, kind: VariableSummary['kind']): VariableSummary =>
  ({
    name,
    label: name[0].toUpperCase() + name.slice(1),
    unit: '',
    kind,
    distinct: 9,
  }) as VariableSummary

const VARIABLES = [
  variable('yield', 'number'),
  variable('humidity', 'number'),
  variable('wind', 'number'),
  variable('night', 'date'),
  variable('valley', 'category'),
  variable('mesh', 'category'),
  variable('station', 'text'),
]

/** A document that its statement's words change. */
function open(document: FigureDocument) {
  const held = { document: structuredClone(document) }
  const ground = (): StatementContext => ({
    document: held.document,
    variables: VARIABLES,
    look: (_, name) => VARIABLES.find((v) => v.name === name) ?? null,
    drawn: 100,
    needsRows: '',
    edit: (change) => {
      const draft = structuredClone(held.document)
      change(draft)
      held.document = draft
    },
    tune: () => undefined,
    seek: () => undefined,
    showPairs: () => undefined,
  })
  const parts = () => {
    const { sentence, offers } = statementOf(ground())
    return [...sentence, ...offers]
  }
  const named = (label: string): ChoicePart | ActPart => {
    const found = parts().find((part) => 'label' in part && part.label === label)
    if (!found) throw new Error(`no ${label}`)
    return found as ChoicePart | ActPart
  }
  return {
    held,
    read: () => plainText(statementOf(ground())),
    has: (label: string) => parts().some((part) => 'label' in part && part.label === label),
    options: (label: string) => (named(label) as ChoicePart).options.map((one) => one.label),
    choose(label: string, option: string) {
      const part = named(label) as ChoicePart
      const found = part.options.find((one) => one.label === option)
      if (!found) throw new Error(`no ${option} among ${part.options.map((o) => o.label).join()}`)
      found.pick()
    },
    act: (label: string) => (named(label) as ActPart).act(),
  }
}

const pair = (): FigureDocument => ({
  ...blankDocument('t', 'humidity', 'yield'),
  colour: blankColour('valley'),
  trends: [blankTrend('straight', 'valley')],
})

describe('a third axis', () => {
  it('comes to a pair and goes again, and the pair is what it was', () => {
    const figure = open(pair())
    const before = structuredClone(figure.held.document)
    figure.choose('Add a third axis', 'Wind')
    expect(figure.read()).toBe('Yield against humidity and wind, coloured by valley')
    figure.choose('z variable', 'remove it')
    expect({ ...figure.held.document, space: null }).toEqual(before)
    figure.act('Add the third axis again')
    expect(figure.read()).toBe('Yield against humidity and wind, coloured by valley')
  })

  it('is offered for what has a place on an axis and does not stand on one yet', () => {
    expect(open(pair()).options('Add a third axis')).toEqual(['Wind', 'Night'])
    const few = open({ ...pair(), y: ['yield', 'wind'] })
    expect(few.options('Add a third axis')).toEqual(['Night'])
  })

  it('of a matrix makes a box of its first two variables and the one that is chosen', () => {
    const figure = open(pair())
    figure.act('Every pair against each other')
    figure.choose('Add a third axis', 'Wind')
    const { kind, x, y, space } = figure.held.document
    expect([kind, y, x, space?.variable]).toEqual([
      '3-D scatterplot',
      ['yield'],
      'humidity',
      'wind',
    ])
  })

  it('forgets ends and numbers read off that were set for another variable', () => {
    const space = {
      ...blankSpace('wind'),
      plane: { ...blankPlane(null), read_off: [{ across: 1, depth: 2, name: null, group: null }] },
    }
    space.axis = { ...space.axis, low: 3, title: 'Gusts', scale: 'log' }
    const figure = open({ ...pair(), kind: '3-D scatterplot', space })
    figure.choose('z variable', 'Night')
    const changed = figure.held.document.space!
    expect([changed.axis.low, changed.axis.title, changed.plane?.read_off]).toEqual([
      null,
      null,
      [],
    ])
  })

  it('has a plane for the whole or each category, flat or bent', () => {
    const figure = open({ ...pair(), kind: '3-D scatterplot', space: blankSpace('wind') })
    figure.act('Add a plane')
    expect(figure.read()).toContain('trend: plane for each valley')
    figure.choose('Fitted to', 'all rows')
    figure.choose('Trend', 'quadratic surface')
    expect(figure.read()).toContain('trend: quadratic surface for all rows')
    expect(figure.has('Add a plane')).toBe(false)
    figure.choose('Trend', 'remove it')
    expect(figure.held.document.space?.plane).toBeNull()
  })

  it('is seen by kinds as what it is: turned, without a line', () => {
    const kind = kindOf({ kind: '3-D scatterplot' })
    expect([kind.isTurned, kind.hasTrend(pair())]).toEqual([true, false])
    const draft = { ...pair(), kind: '3-D scatterplot' as const, space: blankSpace('wind') }
    kind.fitted!.add(draft)
    kind.fitted!.each(draft, 'mesh')
    expect(draft.space.plane).toMatchObject({ by: 'mesh' })
    expect(kind.fitted!.of(draft)).toHaveLength(1)
  })
})

describe('a distribution', () => {
  it('is offered for what goes up, by itself and for each category', () => {
    expect(open(pair()).options('Show its distribution')).toEqual([
      'Yield by itself',
      'Yield for each valley',
      'Yield for each mesh',
    ])
  })

  it('is coloured by its categories as long as nothing else colours it', () => {
    const figure = open({ ...pair(), colour: null })
    figure.choose('Show its distribution', 'Yield for each valley')
    expect(figure.held.document.colour?.variable).toBe('valley')
    figure.choose('For which categories', 'for each mesh')
    expect(figure.held.document.colour?.variable).toBe('mesh')
    figure.choose('For which categories', 'by itself')
    expect(figure.held.document.colour).toBeNull()
    figure.choose('For which categories', 'for each mesh')
    figure.choose('Colour', 'Valley')
    figure.choose('For which categories', 'for each valley')
    figure.choose('For which categories', 'for each mesh')
    expect(figure.read()).toContain('Yield for each mesh')
  })

  it('says as what it is shown, in whatever mixture', () => {
    const document = blankDocument('t', 'yield', 'yield')
    distributionOf(document, 'yield', null)
    const held = document.distribution!
    for (const { label, shown } of SHAPES) {
      showAs(held, label)
      expect(held).toMatchObject(shown)
      expect(shapesOf(held)).toBe(label)
      expect(held.lying).toBe(shown.histogram || shown.density)
    }
    Object.assign(held, { points: 'dots', histogram: true, density: false, box: true })
    expect(shapesOf(held)).toBe('histogram, stacked dots, box')
    Object.assign(held, { points: 'none', histogram: false, box: false })
    expect(shapesOf(held)).toBe('a middle')
    showAs(held, 'nothing of the kind')
    expect(shapesOf(held)).toBe('a middle')
  })

  it('keeps ends of the axis for the same variable, and no other', () => {
    const document = pair()
    document.axes.y = { ...document.axes.y, low: 10, title: 'Own' }
    distributionOf(document, 'yield', 'valley')
    expect([document.axes.y.low, document.axes.y.title]).toEqual([10, 'Own'])
    distributionOf(document, 'wind', 'valley')
    expect([document.axes.y.low, document.axes.y.title]).toEqual([null, null])
  })

  it('goes back to the pair that it came from', () => {
    const figure = open(pair())
    figure.choose('Show its distribution', 'Yield for each valley')
    figure.act('Look at the pair again')
    expect(figure.read()).toContain('Yield against humidity')
    expect(figure.read()).toContain('straight line for each valley')
  })

  it('is named by what it shows where it has no name', () => {
    const document = pair()
    const look = (_: string, name: string) => VARIABLES.find((v) => v.name === name) ?? null
    distributionOf(document, 'wind', 'mesh')
    expect(kindOf(document).name(document, look)).toBe('Wind for each mesh')
    expect(sentenceOf(document, look)).toBe(
      'Wind for each mesh, as points and a box, coloured by valley',
    )
    distributionOf(document, 'wind', null)
    expect(kindOf(document).name(document, look)).toBe('Wind by itself')
  })
})
