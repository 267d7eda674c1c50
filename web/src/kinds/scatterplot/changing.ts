/** What choosing another variable changes of a figure besides it. */
import { blankBar } from '@/figure-model/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { StatementContext } from '@/figure-model/statement/parts'

/** What was set for one variable on an axis and says nothing of another. */
export const UNSET = {
  title: null,
  low: null,
  high: null,
  step: null,
  positions: [],
  crosses: null,
}

export function setAxis(
  { edit }: StatementContext,
  axis: 'x' | 'y',
  name: string,
  place = 0,
): void {
  edit((draft) => {
    // The variable of the other axis: the two change places.
    const other = axis === 'x' ? draft.y[0] : draft.x
    if (draft.y.length === 1 && name === other && draft.x !== draft.y[0]) return swapAxes(draft)
    if (axis === 'x') draft.x = name
    else draft.y[place] = name
    draft.y = [...new Set(draft.y)]
    // Ends and a title that were set for another variable say nothing of this one.
    draft.axes[axis] = { ...draft.axes[axis], ...UNSET }
  })
}

const unsetAxes = (draft: FigureDocument): void => {
  for (const axis of [draft.axes.x, draft.axes.y]) Object.assign(axis, UNSET)
}

/** A pair in the place of what is shown; what was read off another says nothing of it. */
export function showPair(draft: FigureDocument, pair: { x: string; y: string }): void {
  draft.kind = 'scatterplot'
  draft.x = pair.x
  draft.y = [pair.y]
  draft.trends = draft.trends.map((trend) => ({ ...trend, read_off: [] }))
  unsetAxes(draft)
}

/** What goes across goes up, and the other way round: with its scale, ends, title and margin. */
export function swapAxes(draft: FigureDocument): void {
  const [up] = draft.y
  draft.y = [draft.x]
  draft.x = up
  draft.axes = { ...draft.axes, x: draft.axes.y, y: draft.axes.x }
  draft.margins = { ...draft.margins, x: draft.margins.y, y: draft.margins.x }
  draft.error_bars = { ...draft.error_bars, x: draft.error_bars.y, y: draft.error_bars.x }
  draft.jitter = { ...draft.jitter, x: draft.jitter.y, y: draft.jitter.x }
  draft.trends = draft.trends.map((trend) => ({ ...trend, read_off: [] }))
  draft.notes = draft.notes.map((note) =>
    note.anchor === 'data' ? { ...note, x: note.y, y: note.x } : note,
  )
  draft.references = draft.references.map((line) =>
    line.axis === 'both' ? line : { ...line, axis: line.axis === 'x' ? 'y' : 'x' },
  )
}

/** One more variable going up; each then has its own colour and its own line. */
export function addUp({ edit }: StatementContext, name: string): void {
  edit((draft) => {
    draft.y.push(name)
    draft.colour = null
    draft.axes.y = { ...draft.axes.y, ...UNSET }
    for (const trend of draft.trends) trend.by = null
  })
}

export function takeOff({ edit }: StatementContext, place: number): void {
  edit((draft) => {
    draft.y.splice(place, 1)
    draft.axes.y = { ...draft.axes.y, ...UNSET }
  })
}

/** Error bars from the variables that seem to be meant; none of no known source. */
export function barsFrom(variables: readonly VariableSummary[]): FigureDocument['error_bars']['y'] {
  const [below, above] = variables
    .filter(
      ({ kind, name }) => kind === 'number' && /\b(se|sd|sem|error|err|deviation)\b/i.test(name),
    )
    .map(({ name }) => name)
  if (below === undefined) return null
  return { ...blankBar(), kind: above ? 'two' : 'variable', below, above: above ?? null }
}
