/** Looks: how a figure is drawn, apart from what it shows, taken from one and put on another. */
import { blankAxis } from '@/figure-model/blank'
import type { Axis, FigureDocument, SavedLook } from '@/api/types'

type Look = Omit<SavedLook, 'name'>

/** What of an axis belongs to its variable, and so to no look. */
const OF_VARIABLE = [
  'title',
  'low',
  'high',
  'step',
  'positions',
  'crosses',
  'scale',
  'base',
] as const

const ofVariable = (axis: Axis): Partial<Axis> =>
  Object.fromEntries(OF_VARIABLE.map((key) => [key, axis[key]]))

export function lookOf({ marks, axes, type, page, legend }: FigureDocument): Look {
  const styled = (axis: Axis): Axis => ({ ...axis, ...ofVariable(blankAxis()) })
  return {
    marks,
    axes: { ...axes, x: styled(axes.x), y: styled(axes.y) },
    legend: legend.place,
    type,
    page,
  }
}

export function putOn(draft: FigureDocument, { marks, axes, type, page, legend }: Look): void {
  for (const side of ['x', 'y'] as const)
    draft.axes[side] = { ...axes[side], ...ofVariable(draft.axes[side]) }
  draft.axes.frame = axes.frame
  draft.marks = marks
  draft.type = type
  draft.page = page
  draft.legend.place = legend === 'free' ? draft.legend.place : legend
}
