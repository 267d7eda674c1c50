/** What choosing another variable changes of a figure besides it. */
import { blankBar } from '@/api/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import type { Ground } from '@/statement/parts'

/** What was set for one variable on an axis and says nothing of another. */
export const UNSET = {
  title: null,
  low: null,
  high: null,
  step: null,
  positions: [],
  crosses: null,
}

export function setAxis({ edit }: Ground, axis: 'x' | 'y', name: string, place = 0): void {
  edit((draft) => {
    if (axis === 'x') draft.x = name
    else draft.y[place] = name
    draft.y = [...new Set(draft.y)]
    // Ends and a title that were set for another variable say nothing of this one.
    draft.axes[axis] = { ...draft.axes[axis], ...UNSET }
  })
}

/** One more variable going up; each then has its own colour and its own line. */
export function addUp({ edit }: Ground, name: string): void {
  edit((draft) => {
    draft.y.push(name)
    draft.colour = null
    draft.axes.y = { ...draft.axes.y, ...UNSET }
    for (const trend of draft.trends) trend.by = null
  })
}

export function takeOff({ edit }: Ground, place: number): void {
  edit((draft) => {
    draft.y.splice(place, 1)
    draft.axes.y = { ...draft.axes.y, ...UNSET }
  })
}

/** Error bars from the variables that seem to be meant, to be set right in the tuning. */
export function addBars(draft: FigureDocument, variables: readonly VariableSummary[]): void {
  const likely = variables.filter(
    ({ kind, name }) => kind === 'number' && /\b(se|sd|error|err|deviation)\b/i.test(name),
  )
  const bar = blankBar()
  if (likely.length > 1)
    Object.assign(bar, { kind: 'two', below: likely[0].name, above: likely[1].name })
  else if (likely.length) Object.assign(bar, { kind: 'variable', below: likely[0].name })
  draft.error_bars.y = bar
}
