/** As what a distribution is shown, in words, and what these set. */
import type { FigureDocument } from '@/api/types'

type Held = NonNullable<FigureDocument['distribution']>
type Shown = Pick<Held, 'points' | 'histogram' | 'density' | 'box'>

const shape = (label: string, shown: Partial<Shown>): { label: string; shown: Shown } => ({
  label,
  shown: { points: 'none', histogram: false, density: false, box: false, ...shown },
})

export const SHAPES = [
  shape('points and a box', { points: 'jittered', box: true }),
  shape('points', { points: 'jittered' }),
  shape('stacked dots', { points: 'dots' }),
  shape('points in the shape of their density', { points: 'shaped' }),
  shape('a box', { box: true }),
  shape('a histogram', { histogram: true }),
  shape('a density', { density: true }),
  shape('histogram and density', { histogram: true, density: true }),
  shape('a density and a box', { density: true, box: true }),
  shape('a density, points and a box', { density: true, points: 'jittered', box: true }),
  shape('a histogram, density, points and a box', {
    histogram: true,
    density: true,
    points: 'jittered',
    box: true,
  }),
]

/** What is shown, in words: one of the usual ways, or what it is made of. */
export function shapesOf({ points, histogram, density, box }: Held): string {
  const known = SHAPES.find(
    ({ shown }) =>
      shown.points === points &&
      shown.histogram === histogram &&
      shown.density === density &&
      shown.box === box,
  )
  if (known) return known.label
  const parts = [
    ...(histogram ? ['histogram'] : []),
    ...(density ? ['density'] : []),
    ...(points === 'dots' ? ['stacked dots'] : points === 'none' ? [] : ['points']),
    ...(box ? ['box'] : []),
  ]
  return parts.length ? parts.join(', ') : 'a middle'
}

/** Bars and curves of one group stand on their feet; lanes of several lie above one another. */
export function showAs(held: Held, label: string): void {
  const found = SHAPES.find((one) => one.label === label)
  if (!found) return
  Object.assign(held, found.shown)
  held.lying = found.shown.histogram || found.shown.density
}
