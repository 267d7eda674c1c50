/** Everything that can be found on the page of a study: made from what declares itself. */
import { blankReference, blankTrend } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { countOf } from '@/figure-model/words'
import type { ChoicePart } from '@/figure-model/statement/parts'
import { allControls } from '@/figure-model/controls'
import { change, controlKey, type Control, type Scope } from '@/figure-model/controls/control'
import { searcher } from './search'
import type { Entry, Findings, Offered } from './types'
import { VALUE_WORDS } from './vocabulary'
import { wishes } from './wishes'

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
      control,
      does: why ? null : () => seek(part, controlKey(control)),
    }
  })
}

/** So many values of one choice at most are found by themselves. */
const MOST_VALUES = 40

/** What a setting can be set to, each found by itself: choosing it sets it. */
function values({ edit, scope }: Findings, of: readonly Entry[]): Entry[] {
  return of.flatMap((setting): Entry[] => {
    const { control, label, where, why } = setting
    if (control?.kind !== 'choice' && control?.kind !== 'select') return []
    const options = control.kind === 'choice' ? control.options : control.options(scope)
    return options.slice(0, MOST_VALUES).map(({ value, label: said }) => ({
      kind: 'value',
      label: `${label}: ${said}`,
      value: said,
      where,
      find: `${setting.find} ${VALUE_WORDS[said] ?? ''}`,
      why,
      does: why ? null : () => edit(change(control, scope, value)),
    }))
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
  Labels: 'name points',
  'Add a colour': 'group by category colours groups',
  'Add a size': 'bubble',
  'Add labels': 'label points dots text name names',
  'Add a trend': 'line fit regression curve model best',
  'Add error bars': 'uncertainty whiskers standard deviation',
  'Add another variable': 'second series y axis several',
  'Show its distribution': 'boxplot box violin histogram density spread by group',
  'Add a third axis': 'threed cube space depth',
  'Every pair against each other': 'matrix eachpair correlation scatterplot all variables',
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
      ...(part.kind === 'choice' && !part.why ? picks(part) : []),
    ]
  })
}

/** What a word of the statement can become, each found by itself: choosing it makes it so. */
const picks = ({ label, options }: ChoicePart): Entry[] =>
  options
    .filter(({ isChosen }) => !isChosen)
    .slice(0, MOST_VALUES)
    .map(({ label: said, note, pick }) => ({
      kind: 'value',
      label: `${label}: ${said}`,
      value: said,
      where: 'Statement',
      find: `${STATED[label] ?? ''} ${note ?? ''} ${VALUE_WORDS[said] ?? ''}`,
      does: pick,
    }))

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

/** A variable put on an axis. */
function placings({ scope, edit }: Findings): Entry[] {
  if (scope.document.kind !== 'scatterplot') return []
  return scope.variables.filter(onAxes).flatMap(({ name, label }): Entry[] => {
    const put = (axis: string, find: string, does: (draft: FigureDocument) => void): Entry => ({
      kind: 'action',
      label: `${label} on the ${axis} axis`,
      where: 'Statement',
      find,
      does: () => edit(does),
    })
    return [
      put('x', 'horizontal put across', (draft) => (draft.x = name)),
      put('y', 'vertical put up', (draft) => (draft.y = [name])),
    ]
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

/** So many passages of the guide at most stand among the answers. */
const MOST_PASSAGES = 2

const isOfFigure = (findings: Offered): findings is Findings => 'scope' in findings

/**
 * Make what answers to words that are typed, the likeliest first.
 *
 * Its index is built once for what can be found; typing only searches it.
 */
export function finder(findings: Offered): (typed: string, most?: number) => Entry[] {
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
  const inGuide = searcher(
    (findings.guide ?? []).map(({ title, page, open }): Entry => ({
      kind: 'guide',
      label: title,
      where: `Guide: ${page}`,
      does: open,
    })),
  )
  /** What does something stands first; what explains comes last, or alone where nothing does. */
  const withGuide = (entries: readonly Entry[], typed: string, most: number): Entry[] => {
    const passages = inGuide(typed, MOST_PASSAGES)
    return [...entries.slice(0, most - passages.length), ...passages]
  }
  if (!isOfFigure(findings)) {
    const inActs = searcher([...acts, ...figures])
    return (typed, most = 8) => withGuide(inActs(typed, most), typed, most)
  }
  const set = settings(findings)
  const inAll = searcher([
    ...words(findings),
    ...acts,
    ...set,
    ...values(findings, set),
    ...variables(findings),
    ...placings(findings),
    ...figures,
  ])
  const inSettings = searcher(set)
  return (typed, most = 8) =>
    withGuide(
      [...rowOf(findings, typed), ...wishes(findings, typed, inSettings), ...inAll(typed, most)],
      typed,
      most,
    )
}

/** What answers to words that are typed; see `finder`. */
export const find = (findings: Offered, typed: string, most?: number): Entry[] =>
  finder(findings)(typed, most)
