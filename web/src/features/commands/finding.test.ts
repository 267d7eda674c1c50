import { describe, expect, it } from 'vitest'
import { blankColour, blankDocument, blankNames, blankTrend } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { statementOf } from '@/kinds'
import { find, finder } from './entries'
import type { Findings } from './types'
import { searcher } from './search'
import { WISH_LIST } from './wish-list'

const variable = (name: string, kind: VariableSummary['kind'] = 'number') =>
  ({
    name,
    label: name[0].toUpperCase() + name.slice(1),
    kind,
    unit: '',
    distinct: 9,
  }) as VariableSummary
const variables = [
  variable('night', 'date'),
  variable('valley', 'category'),
  variable('humidity'),
  variable('yield'),
  variable('station', 'text'),
]

const nothing = (): void => undefined
/** As the page offers them; what each does is said where it is asked. */
const ACTS = [
  ['Undo', 'take back mistake revert'],
  ['Redo', 'again'],
  ['Keys', 'keyboard shortcut help list'],
  [
    'Export',
    'save export download image png svg pdf jpeg picture print copy clipboard poster slide transparent background caption script command python',
  ],
  ['Share a page', 'publish send link web html colleague'],
  ['Swap the axes', 'x y exchange flip transpose turn round'],
  ['Rows', 'table data grid values edit set aside ignore exclude outlier point list'],
  ['Box: several at once', 'select rectangle drag brush'],
  ['Free-form: several at once', 'select lasso brush'],
  ['Pan: drag the view', 'pan hand scroll'],
  ['Dim the paper', 'dark white bright night theme background glare mode'],
  ['Show all', 'zoom out reset whole all view'],
  ['Derive a variable', 'calculate compute formula column transform logarithm ratio new'],
  ['Type a table', 'enter data by hand new blank'],
  ['Add a figure', 'new plot another chart'],
  ['Copy the open figure', 'duplicate clone same again plot chart'],
  ['Delete the open figure', 'remove plot'],
  [
    'About the table',
    'rows replace import file again reshape stack spread join export csv data spreadsheet',
  ],
  ['New plate', 'several figures on one page side by panel facet small multiples grid'],
  ['Strongest pairs', 'correlation all variables ranking which go together'],
  ['Read off the trend', 'where does it reach value at predict level dose estimate number solve'],
  ['Compare trends', 'best model family which curve fits aic criterion'],
  ['Residuals', 'diagnostics assumptions check scatter normal'],
  ['Equation on the figure', 'formula print readings r squared text'],
  ['Add a note', 'annotation text arrow comment write'],
].map(([label, words]) => ({ label, where: 'Study', find: words, does: nothing }))

const done: string[] = []

function findings(change: (document: FigureDocument) => void = nothing, needsRows = ''): Findings {
  const document = blankDocument('t', 'humidity', 'yield')
  change(document)
  const look = (_: string, name: string) => variables.find((one) => one.name === name) ?? null
  return {
    scope: { document, drawn: null, variables, needsRows },
    statement: statementOf({
      document,
      variables,
      look,
      drawn: 640,
      needsRows,
      edit: nothing,
      tune: (part) => done.push(`tune ${part}`),
      seek: (part) => done.push(`tune ${part}`),
      showPairs: nothing,
    }),
    entries: [],
    categories: ['Argill', 'Bracken'].map((value) => ({ variable: 'valley', value, label: value })),
    rows: 640,
    acts: ACTS,
    figures: [{ label: 'Cistern in spring', open: nothing }],
    seek: (part, control) => done.push(`${part}: ${control}`),
    word: (label) => done.push(`word ${label}`),
    lookAt: (name) => done.push(`variable ${name}`),
    edit: (made) => {
      made(document)
      done.push(`${document.y[0]} against ${document.x}`)
    },
    row: (place) => done.push(`row ${place}`),
  }
}

const full = findings((document) => {
  document.trends = [blankTrend('straight', null)]
  document.colour = blankColour('valley')
  document.names = blankNames('station', 'all')
})

/** What people say, and what is the first or the second answer to it. */
const WISHES: [string, string][] = [
  ['bigger text', 'Titles and page: Text size'],
  ['get rid of the grid', 'x axis: Gridlines'],
  ['start at zero', 'y axis: Starts at'],
  ['make dots smaller', 'Marks: Size'],
  ['name the points', 'Statement: Labels'],
  ['two decimals', 'y axis: Decimals'],
  ['colour of the band', 'Trend: Colour of the band'],
  ['color of the confidence band', 'Trend: Colour of the band'],
  ['see through band', 'Trend: Opacity of the band'],
  ['save for a poster', 'Study: Export'],
  ['export png', 'Study: Export'],
  ['ignore this point', 'Study: Rows'],
  ['swap the axes', 'Study: Swap the axes'],
  ['log scale', 'y axis: Scale'],
  ['where does it reach 50', 'Study: Read off the trend'],
  ['dashed line', 'Trend: Line style'],
  ['legend at the bottom', 'Legend: Position'],
  ['move the legend', 'Legend: Position'],
  ['outline of the marks', 'Marks: Outline'],
  ['transparent points', 'Marks: Opacity'],
  ['show the equation', 'Study: Equation on the figure'],
  ['overlapping points', 'Marks: Jitter x'],
  ['hollow markers', 'Marks: Fill'],
  ['add a title', 'Titles and page: Title'],
  ['font of the title', 'Titles and page: Font of the title'],
  ['reverse the y axis', 'y axis: Direction'],
  ['tick every 10', 'y axis: Tick every'],
  ['background', 'Titles and page: Background'],
  ['undo my mistake', 'Study: Undo'],
  ['only some rows', 'Statement: Which rows are shown'],
  ['best fit line', 'Statement: Add a trend'],
  ['confidence level', 'Trend: Confidence level, %'],
  ['mean line', 'Reference line: Where'],
  ['same units on both axes', 'y axis: Both axes'],
  ['connect the dots', 'Marks: Connecting line'],
  ['sizee', 'Statement: Add a size'],
  ['my own formula', 'Trend: Trend type'],
  ['piecewise line', 'Trend: Trend type'],
  ['median regression', 'Trend: Trend type'],
  ['robust standard errors', 'Trend: Standard errors'],
  ['bootstrap', 'Trend: Standard errors'],
  ['band for the whole line', 'Trend: Band 1 type'],
]

describe('finding', () => {
  it.each(WISHES)('“%s” leads to %s', (typed, wanted) => {
    const said = find(full, typed).map(({ where, label }) => `${where}: ${label}`)
    // An axis has the other beside it: which is meant, nobody said. A value is of its setting.
    const either = (one: string) => one.replace('x axis', 'y axis').replace(': Set ', ': ')
    const [first, second] = said.map(either)
    const isMet = [first, second].some((one) => one?.startsWith(either(wanted)))
    expect(isMet, said.join('\n')).toBe(true)
  })

  it('answers at least 98 in 100 of the wishes of the list first or second', () => {
    const finds = finder(full)
    const missed = WISH_LIST.filter(([wish, ...answers]) => {
      const said = finds(wish)
        .slice(0, 2)
        .map(({ label }) => label.toLowerCase())
      return !answers.some((answer) => said.some((one) => one.includes(answer.toLowerCase())))
    }).map(([wish]) => {
      const said = finds(wish).slice(0, 4)
      return `${wish} -> ${said.map(({ label, where }) => `${where}: ${label}`).join(' | ')}`
    })
    expect(missed.length, missed.join('\n')).toBeLessThanOrEqual(WISH_LIST.length * 0.02)
  })

  it('carries out a number, a colour and a category as they were said', () => {
    const made = blankDocument('t', 'humidity', 'yield')
    made.trends = [blankTrend('straight', null)]
    const open = { ...findings(), scope: { ...findings().scope, document: made } }
    const edit: Findings['edit'] = (change) => change(made)
    const ours: Findings = { ...open, edit }
    const finds = finder(ours)
    const first = (typed: string) => finds(typed)[0]
    for (const typed of ['two decimals on x', 'make it red', 'only bracken']) first(typed).does!()
    expect(made.axes.x.digits).toBe(2)
    expect(made.marks.colour).toBe('#cc0000')
    expect(made.rows?.conditions).toMatchObject([
      { variable: 'valley', test: 'one_of', values: ['Bracken'] },
    ])
    expect(first('without argill').label).toBe('Leave out Argill')
    first('without argill').does!()
    expect(made.rows?.conditions).toMatchObject([{ test: 'not_one_of', values: ['Argill'] }])
    first('only humidity 60 to 80').does!()
    first('yield is exactly 3,5').does!()
    expect(made.rows?.conditions.slice(-2)).toMatchObject([
      { variable: 'humidity', test: 'between', low: 60, high: 80 },
      { variable: 'yield', test: 'between', low: 3.5, high: 3.5 },
    ])
    expect(first('yield < 4').label).toBe('Show only yield ≤ 4')
    // A number that a setting does not take is not offered.
    expect(finds('two hundred thousand decimals').map(({ label }) => label)).not.toContain(
      'Set Decimals to 200000',
    )
  })

  it('says why marks take no colour where a variable colours them', () => {
    expect(find(full, 'make it red')[0]).toMatchObject({ label: 'Set Colour to red', does: null })
    expect(find(full, 'make it red')[0].why).not.toBe('')
  })

  it('never offers to delete first unless that was said', () => {
    for (const typed of ['remove legend', 'remove plot title', 'open figure', 'figure'])
      expect(find(full, typed)[0].label, typed).not.toMatch(/^Delete/)
    expect(find(full, 'delete figure')[0].label).toBe('Delete the open figure')
  })

  it('says why what needs all rows is off where they are never together', () => {
    const byParts = findings((document) => {
      document.trends = [blankTrend('straight', null)]
      document.trends[0].errors = 'hc3'
    }, 'by parts')
    const named = (label: string) => find(byParts, label, 60).find((one) => one.label === label)!
    for (const label of ['Add a size', 'Add error bars', 'Connecting line', 'Weights'])
      expect(named(label), label).toMatchObject({ why: 'by parts', does: null })
    // Rows are named where they are drawn one by one.
    expect(named('Add labels').does).not.toBeNull()
    // What is set can be taken back.
    expect(named('Standard errors').does).not.toBeNull()
    expect(named('Opacity of the band').does).not.toBeNull()
  })

  it('leads to the control itself', () => {
    done.length = 0
    find(full, 'opacity of the band')[0].does!()
    find(full, 'humidity')[0].does!()
    find(full, 'row 206')[0].does!()
    find(full, 'coloured by').find(({ label }) => label === 'Colour')!.does!()
    expect(done).toEqual([
      'trend-0: trends.0.band_opacity Opacity of the band',
      'variable humidity',
      'row 206',
      'word Colour',
    ])
  })

  it('puts a variable that is named on an axis', () => {
    done.length = 0
    const placed = find(findings(), 'night on x').find(
      ({ label }) => label === 'Night on the x axis',
    )!
    placed.does!()
    expect(done).toEqual(['yield against night'])
    expect(find(full, 'cistern')[0].label).toBe('Cistern in spring')
  })

  it('finds what is off, and says why', () => {
    const [first] = find(findings(), 'colour of the band')
    expect([first.label, first.does]).toEqual(['Colour of the band', null])
    expect(first.why).toMatch(/no trend yet.*\+ trend/)
    expect(find(full, 'largest bubble')[0].why).toBe('No variable sizes the marks.')
    expect(find(full, 'row 641')[0]).toMatchObject({
      why: 'There are 640\u202frows.'.replace('\u202f', ' '),
      does: null,
    })
  })

  it('finds what can be done and what can be opened where no figure is open', () => {
    const opened: string[] = []
    const figures = [{ label: 'Yield against humidity', open: () => opened.push('yield') }]
    const offered = { acts: ACTS, figures }
    expect(find(offered, 'export')[0].label).toBe('Export')
    find(offered, 'humidity')[0].does!()
    expect(opened).toEqual(['yield'])
    expect(find(offered, 'text size')).not.toContainEqual(
      expect.objectContaining({ kind: 'setting' }),
    )
  })

  it('answers nothing to nothing, and to what nobody knows', () => {
    for (const typed of ['', '  ', '…', 'zzqx', '🦔']) expect(find(full, typed)).toEqual([])
    // Words that say nothing by themselves are all there is.
    expect(() => find(full, 'the of to')).not.toThrow()
  })

  it('reads a word with one letter wrong, and marks over letters', () => {
    const things = [
      { label: 'Opacity', where: '' },
      { label: 'Überhang', where: '' },
    ]
    for (const typed of ['opacty', 'opactiy', 'opacitty', 'opaxity'])
      expect(searcher(things)(typed)[0].label).toBe('Opacity')
    expect(searcher(things)('uberhang')[0].label).toBe('Überhang')
    expect(searcher(things)('opposite')).toEqual([])
  })
})
