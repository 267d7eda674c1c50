/** Looking at a box: it is turned by a drag or the arrow keys, and one comes closer by the wheel. */
import { blankSpace } from '@/figure-model/blank'
import { within, type Seen } from '@/render/geometry/camera'
import { layoutSpace, seenFrom } from '@/render/layout/space'
import type { ViewController } from '@/kinds/renderer'

/** Degrees for a drag across the width of the plot, and for a key. */
const ACROSS = 200
const KEY = 5

const turned = (seen: Seen, around: number, above: number, closer = 1): Seen =>
  within({
    around: seen.around + around,
    above: seen.above + above,
    closeness: seen.closeness * closer,
  })

export const orbitController: ViewController<Seen> = {
  home: seenFrom,
  first: () => ({ ...blankSpace('').turn, closeness: blankSpace('').closeness }),
  layout: layoutSpace,
  zoom: (seen, _layout, _about, factor) => turned(seen, 0, 0, 1 / factor),
  pan: (seen, { plot }, dx, dy) =>
    turned(seen, (-dx / plot.width) * ACROSS, (dy / plot.width) * ACROSS),
  step: (seen, _layout, right, up) => turned(seen, -right * KEY, up * KEY),
  held: (seen) => seen,
  follows: [
    {
      of: ({ document }) => JSON.stringify([document.space?.turn, document.space?.closeness]),
      follow: () => null,
    },
  ],
  kept: (draft, { around, above, closeness }) => {
    if (!draft.space) return
    draft.space.turn = { around, above }
    draft.space.closeness = closeness
  },
  isTurned: true,
}
