/** The figure of one pair of axes: its name, and its statement. */
import { blankTrend } from '@/figure-model/blank'
import { USUAL_FAMILY } from '@/figure-model/families'
import { joined } from '@/figure-model/words'
import { namesOf } from '@/figure-model/statement/parts'
import type { FigureKind } from '@/kinds/figure-kind'
import { statement } from './statement'

export const scatterplot: FigureKind = {
  name: (document, look) => {
    const { label, within } = namesOf({ document, look })
    const [first, ...others] = document.y
    return `${joined([label(first), ...others.map(within)])} against ${within(document.x)}`
  },
  statement,
  isOfPair: true,
  fitted: {
    of: ({ trends }) => trends,
    never: [],
    isCompared: true,
    offer: 'Fit a straight line',
    add: (draft) => void draft.trends.push(blankTrend(USUAL_FAMILY, null)),
    each: (draft, by) => {
      for (const trend of draft.trends) trend.by = by
    },
  },
  tunable: ({ document, answer }) => [
    { part: 'marks', label: 'marks' },
    { part: 'x-axis', label: 'x axis' },
    { part: 'y-axis', label: 'y axis' },
    ...(answer.colour || answer.size ? [{ part: 'legend' as const, label: 'legend' }] : []),
    ...document.trends.map((_, i) => ({
      part: `trend-${i}` as const,
      label: document.trends.length > 1 ? `trend ${i + 1}` : 'trend',
    })),
    { part: 'title', label: 'titles' },
  ],
  hasTrend: ({ trends }) => trends.length > 0,
}
