/** From where a box is seen, by name: each pair of axes face on, and the four corners. */
import { blankSpace } from '@/figure-model/blank'

export interface NamedView {
  label: string
  turn: { around: number; above: number }
}

const CORNER = blankSpace('').turn

export const VIEWS: readonly NamedView[] = [
  { label: 'From the corner', turn: CORNER },
  { label: 'From the front', turn: { around: 0, above: 0 } },
  { label: 'From the side', turn: { around: -90, above: 0 } },
  { label: 'From the top', turn: { around: 0, above: 90 } },
]

/** The corners in turn, as one walks about the box. */
export const CORNERS: readonly NamedView[] = [0, 90, 180, 270].map((by, i) => ({
  label: `Corner ${i + 1}`,
  turn: { around: ((CORNER.around + by + 180) % 360) - 180, above: CORNER.above },
}))
