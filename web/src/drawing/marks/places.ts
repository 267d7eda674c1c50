/** Where marks stand on the page, in the order in which they are drawn. */
import type { FigureDocument } from '@/api/types'
import type { Scale } from '@/drawing/geometry/scale'
import type { Looks } from './looks'
import { MANY } from './crowding'
import type { Box, MarksItem } from '@/drawing/scene'

export interface PlacedMarks {
  item: MarksItem
  source: Uint32Array
  radius: (drawn: number) => number
  /** Places of all the answer's marks in their own order. */
  all: { x: Float32Array; y: Float32Array }
  off: number
}

/** Puts the marks in their places, in the order in which they are drawn. */
export function placeMarks(
  document: FigureDocument,
  values: { x: Float64Array; y: Float64Array },
  looks: Looks,
  x: Scale,
  y: Scale,
  clip: Box,
  paper: MarksItem['paper'],
): PlacedMarks {
  const all = {
    x: Float32Array.from(values.x, x.toPage),
    y: Float32Array.from(values.y, y.toPage),
  }
  const count = all.x.length
  let off = 0
  if (document.axes.x.scale !== 'linear' || document.axes.y.scale !== 'linear')
    for (let i = 0; i < count; i++)
      if (Number.isNaN(all.x[i]) || Number.isNaN(all.y[i])) {
        off++
        // Far off the page, where nothing is drawn and no pointer comes.
        all.x[i] = all.y[i] = -1e6
      }
  const { order, of, sizes } = looks
  const source = order ?? Uint32Array.from({ length: count }, (_, i) => i)
  const inOrder = order
    ? {
        x: Float32Array.from(order, (i) => all.x[i]),
        y: Float32Array.from(order, (i) => all.y[i]),
        look: Uint16Array.from(order, (i) => of[i]),
      }
    : { ...all, look: of }
  const { density } = document.marks
  return {
    item: {
      kind: 'marks',
      part: 'marks',
      ...inOrder,
      looks: looks.looks,
      paper,
      clip,
      density: density === 'on' || (density === 'auto' && inView(inOrder, clip) > MANY),
    },
    source,
    radius: (drawn) => (sizes ? sizes[source[drawn]] : looks.looks[of[source[drawn]]].size) / 2,
    all,
    off,
  }
}

function inView({ x, y }: { x: Float32Array; y: Float32Array }, clip: Box): number {
  if (x.length <= MANY) return 0
  let count = 0
  for (let i = 0; i < x.length; i++)
    if (
      x[i] >= clip.x &&
      x[i] <= clip.x + clip.width &&
      y[i] >= clip.y &&
      y[i] <= clip.y + clip.height
    )
      count++
  return count
}
