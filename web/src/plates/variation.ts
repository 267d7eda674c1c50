/** A figure with one thing changed, and what is said of the change. */
import { setFamily } from '@/figure-model/blank'
import type { FigureDocument, Trend, Varied } from '@/api/types'
import { levelText } from '@/render/text/numbers'
import { CORNERS, VIEWS } from '@/kinds/space/views'
import { familyLabel } from '@/figure-model/families'
import { copyOf } from '@/lib/copy'

/** Why a change cannot be made, as a sentence. */
export class NotVaried extends Error {}

export function variedDocument(document: FigureDocument, varied: Varied | null): FigureDocument {
  const draft = copyOf(document)
  if (!varied) return draft
  switch (varied.thing) {
    case 'level':
      for (const trend of trendsOf(draft)) {
        trend.level = varied.level
        for (const band of trend.bands) band.level = varied.level
      }
      break
    case 'form':
      for (const trend of trendsOf(draft)) {
        setFamily(trend, varied.family, copyOf(varied.settings))
      }
      break
    case 'category': {
      const rows = draft.rows ?? { join: 'and' as const, conditions: [] }
      if (rows.join === 'or' && rows.conditions.length > 1)
        throw new NotVaried(
          'The filter of this figure joins its conditions by or, so it cannot be split by category.',
        )
      const only = {
        variable: varied.variable,
        test: 'one_of' as const,
        low: null,
        high: null,
        values: [varied.value],
        text: '',
      }
      draft.rows = { join: 'and', conditions: [...rows.conditions, only] }
      break
    }
    case 'turn':
      if (draft.space) draft.space.turn = { around: varied.around, above: varied.above }
      break
    case 'x':
      draft.x = varied.variable
      draft.axes.x = { ...draft.axes.x, title: null, low: null, high: null, positions: [] }
      break
    case 'y':
      draft.y = [varied.variable]
      draft.axes.y = { ...draft.axes.y, title: null, low: null, high: null, positions: [] }
  }
  return draft
}

const trendsOf = ({ trends, matrix }: FigureDocument): Trend[] =>
  matrix ? [...trends, matrix.trend] : trends

/** A view by its name, or by its angles. */
function viewName({ around, above }: { around: number; above: number }): string {
  const found = [...VIEWS, ...CORNERS].find(
    ({ turn }) => turn.around === around && turn.above === above,
  )
  return found?.label ?? `turned by ${Math.round(around)}°, from ${Math.round(above)}° above`
}

/** What stands beside the letter: the thing that is changed. */
export function variedWords(
  varied: Varied | null,
  label: (variable: string) => string,
  category: (variable: string, value: string) => string,
): string {
  switch (varied?.thing) {
    case 'level':
      return `${levelText(varied.level)} band`
    case 'form':
      return familyLabel(varied.family)
    case 'category':
      return category(varied.variable, varied.value)
    case 'turn':
      return viewName(varied)
    case 'x':
    case 'y':
      return label(varied.variable)
    default:
      return ''
  }
}
