/** Everything that can be found on the page of a study: made from what declares itself. */
import { blankReference, blankTrend } from '@/api/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { Part } from '@/drawing/scene'
import type { CategoryEntry } from '@/drawing/entries'
import { countOf } from '@/model/words'
import type { Statement } from '@/statement/parts'
import { allControls } from '@/tuning/controls'
import { controlKey, type Control, type Scope } from '@/tuning/controls/control'
import { search, wanted, type Findable } from './search'

export interface Entry extends Findable {
  kind: 'setting' | 'action' | 'variable' | 'figure' | 'row'
  /** What choosing it does; null where it cannot be done now. */
  does: (() => unknown) | null
}

/** What can be found whatever is open. */
export interface Offered {
  acts: readonly {
    label: string
    where: string
    find?: string
    why?: string
    does: () => unknown
  }[]
  figures: readonly { label: string; open: () => unknown }[]
}

/** What finding works on where a figure is open, and what it can do. */
export interface Findings extends Offered {
  scope: Scope
  statement: Statement
  /** Categories with an entry in the legend. */
  entries: readonly CategoryEntry[]
  rows: number
  seek: (part: Part, control: string) => void
  /** Opens the list of a word of the statement, by its label. */
  word: (label: string) => void
  lookAt: (variable: string) => void
  edit: (change: (draft: FigureDocument) => void) => void
  /** Shows a row, by its place from 1. */
  row: (place: number) => void
}

const TREND_MISSING = 'There is no trend yet: choose “+ trend”.'
const REFERENCE_MISSING = 'There is no reference line yet: add one below the settings of an axis.'

/** A document as it would be with a trend and a line at a value, so that theirs can be found. */
function withAll(document: FigureDocument): FigureDocument {
  return {
    ...document,
    trends: document.trends.length ? document.trends : [blankTrend('straight', null)],
    references: document.references.length ? document.references : [blankReference()],
  }
}

function whyOff(control: Control, scope: Scope): string {
  const { document } = scope
  if (control.at.startsWith('trends.') && !document.trends.length) return TREND_MISSING
  if (control.at.startsWith('references.') && !document.references.length) return REFERENCE_MISSING
  return control.off?.(scope) ?? ''
}

/** What people call a panel that is called otherwise here. */
const PANELS: Record<string, string> = {
  'x axis': 'x horizontal axis',
  'y axis': 'y vertical axis',
  'z axis': 'z third axis',
}

function settings({ scope, entries, seek }: Findings): Entry[] {
  return allControls(withAll(scope.document), entries).map(({ control, part, panel }) => {
    const why = whyOff(control, scope)
    return {
      kind: 'setting',
      label: control.label,
      where: panel,
      find: `${control.find ?? ''} ${PANELS[panel] ?? ''}`,
      why,
      does: why ? null : () => seek(part, controlKey(control)),
    }
  })
}

/** What a word of the statement sets, for those who look for it by another. */
const STATED: Record<string, string> = {
  'y variable': 'y axis vertical variable dependent response',
  'x variable': 'x axis horizontal variable independent',
  Trend: 'form fit line curve regression model family',
  'Fitted to': 'groups each category by separate lines',
  Band: 'confidence prediction interval level ribbon',
  Colour: 'group by category colours',
  Size: 'bubble',
  Names: 'label points',
  'Add a colour': 'group by category colours groups',
  'Add a size': 'bubble',
  'Add names': 'label points dots text name',
  'Add a trend': 'line fit regression curve model best',
  'Add error bars': 'uncertainty whiskers standard deviation',
  'Add another variable': 'second series y axis several',
}

function words({ statement, word }: Findings): Entry[] {
  return [...statement.sentence, ...statement.offers].flatMap((part): Entry[] => {
    if (part.kind === 'text') return []
    if (part.kind === 'rows')
      return [
        {
          kind: 'action',
          label: 'Which rows are shown',
          where: 'Statement',
          find: 'filter subset only exclude rows where condition',
          does: () => word('rows'),
        },
      ]
    return [
      {
        kind: 'action',
        label: part.label,
        where: 'Statement',
        find: `${STATED[part.label] ?? ''} ${part.text}`,
        why: part.why,
        does: part.why ? null : part.kind === 'act' ? part.act : () => word(part.label),
      },
    ]
  })
}

const onAxes = ({ kind }: VariableSummary): boolean => kind === 'number' || kind === 'date'

function variables({ scope, lookAt }: Findings): Entry[] {
  return scope.variables.map(({ name, label, unit, kind }) => ({
    kind: 'variable',
    label,
    where: unit ? `${kind}, ${unit}` : kind,
    find: `variable column ${name}`,
    does: () => lookAt(name),
  }))
}

/** Only where a variable is named: else every one of them would answer to "colour". */
function placings({ scope, edit }: Findings, typed: string): Entry[] {
  if (scope.document.kind !== 'scatterplot' || wanted(typed).length < 2) return []
  const named = search(
    scope.variables.map((variable) => ({ label: variable.label, where: '', variable })),
    typed,
    3,
  )
  return named.flatMap(({ variable: { name, label, kind, ...rest } }): Entry[] => {
    const put = (what: string, find: string, does: (draft: FigureDocument) => void): Entry => ({
      kind: 'action',
      label: `${label} ${what}`,
      where: 'Statement',
      find,
      does: () => edit(does),
    })
    return onAxes({ name, label, kind, ...rest })
      ? [
          put('on the x axis', 'x axis horizontal put across', (draft) => (draft.x = name)),
          put('on the y axis', 'y axis vertical put up', (draft) => (draft.y = [name])),
        ]
      : []
  })
}

const ROW = /^\s*(?:row|line|record)?\s*(\d[\d\s,]*)$/i

function rowOf({ rows, row, scope }: Findings, typed: string): Entry[] {
  const found = ROW.exec(typed)
  if (!found) return []
  const place = Number(found[1].replace(/[\s,]/g, ''))
  const why = place < 1 || place > rows ? `There are ${countOf(rows, 'row')}.` : ''
  return [
    {
      kind: 'row',
      label: `Row ${place}`,
      where: `Rows of ${scope.document.table ? 'the table' : ''}`.trim(),
      why,
      does: why ? null : () => row(place),
    },
  ]
}

const isOfFigure = (findings: Offered): findings is Findings => 'scope' in findings

/** What answers to the words that were typed, the likeliest first. */
export function find(findings: Offered, typed: string, most = 8): Entry[] {
  const acts = findings.acts.map(({ label, where, find: words, why, does }): Entry => ({
    kind: 'action',
    label,
    where,
    find: words,
    why,
    does: why ? null : does,
  }))
  const figures = findings.figures.map(({ label, open }): Entry => ({
    kind: 'figure',
    label,
    where: 'Figure',
    does: open,
  }))
  if (!isOfFigure(findings)) return search([...acts, ...figures], typed, most)
  const things = [
    ...words(findings),
    ...acts,
    ...settings(findings),
    ...variables(findings),
    ...placings(findings, typed),
    ...figures,
  ]
  return [...rowOf(findings, typed), ...search(things, typed, most)].slice(0, most)
}
