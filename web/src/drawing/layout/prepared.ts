/**
 * What of a figure stays the same wherever one looks: the looks of its marks, their values with
 * jitter, the ends with which it starts. Worked out once, and kept as long as its marks are there.
 */
import type { Marks } from '@/api/types'
import { jittered } from '@/drawing/geometry/jitter'
import { looksOf, type Looks } from '@/drawing/marks/looks'
import type { Figure } from '@/drawing/drawn'
import { homeView, type View } from './extents'

export interface Prepared {
  looks: Looks
  values: { x: Float64Array; y: Float64Array }
  home: View
}

/** The latest of each answer's marks: an older document over them is not asked for again. */
const kept = new WeakMap<Marks, { figure: Figure; prepared: Prepared }>()

const same = (a: Figure, b: Figure): boolean =>
  a.document === b.document && a.answer === b.answer && (a.only ?? null) === (b.only ?? null)

export function preparedFor(figure: Figure): Prepared {
  const { document, answer, marks } = figure
  const known = kept.get(marks)
  if (known && same(known.figure, figure)) return known.prepared
  const { width, height } = document.page
  const prepared: Prepared = {
    looks: looksOf(document, answer, marks, width * height * 0.7, figure.only),
    values: {
      x: jittered(marks.x, marks.row, document.jitter.x, 1),
      y: jittered(marks.y, marks.row, document.jitter.y, 2),
    },
    home: homeView(figure),
  }
  kept.set(marks, { figure, prepared })
  return prepared
}
