/** The figure of one pair of axes: its name, and its statement. */
import { joined } from '@/model/words'
import { namesOf } from '@/statement/parts'
import type { FigureKind } from '../figure-kind'
import { statement } from './statement'

export const scatterplot: FigureKind = {
  name: (document, look) => {
    const { label, within } = namesOf({ document, look })
    const [first, ...others] = document.y
    return `${joined([label(first), ...others.map(within)])} against ${within(document.x)}`
  },
  statement,
  isOfPair: true,
  hasTrend: ({ trends }) => trends.length > 0,
}
