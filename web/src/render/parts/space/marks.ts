/** Marks and what belongs to them in the box: lines to the floor, and those behind the plane. */
import { SOFT_INK } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { onPage, TALL, type Camera } from '@/render/geometry/camera'
import type { Scale } from '@/render/geometry/scale'
import type { InBox } from '@/render/marks/depths'
import type { PlacedMarks } from '@/render/marks/places'
import type { Item, MarksItem } from '@/render/scene'
import { gaugeOf } from '@/render/text/lettering'
import { heightAt, isFlat, MOST_LINES, type Scales3 } from './plane'

/** The plane is drawn between the marks behind it and those before it, where they are not more. */
const MOST_PARTED = 20_000

/** Lines from marks down to the floor. */
export function dropItems(
  { document, marks }: RenderedFigure,
  { across, up, depth }: InBox,
  camera: Camera,
): Item[] {
  const { drops } = document.space!
  if (drops === 'none') return []
  const singled = new Set(document.singled_out.flatMap(({ rows }) => rows))
  if (drops === 'all' && marks.row.length > MOST_LINES) return []
  const points: number[] = []
  for (let i = 0; i < across.length; i++) {
    if (drops === 'singled' && !singled.has(marks.row[i])) continue
    if (Number.isNaN(across[i] + up[i] + depth[i])) continue
    points.push(
      ...onPage(camera, [across[i], up[i], depth[i]]),
      ...onPage(camera, [across[i], -TALL / 2, depth[i]]),
    )
  }
  const isFew = drops === 'singled'
  return [
    {
      kind: 'segments',
      part: 'space',
      points: Float64Array.from(points),
      stroke: SOFT_INK,
      opacity: isFew ? 0.9 : 0.3,
      width: (isFew ? 1.1 : 0.7) * gaugeOf(document),
    },
  ]
}

/** Marks behind the plane and those before it, where one flat plane parts them. */
export function parted(
  { document, answer, marks }: RenderedFigure,
  { item, source }: PlacedMarks,
  camera: Camera,
  scales: Scales3,
): { behind: MarksItem | null; before: MarksItem } {
  const { planes } = answer.space!
  const surface = planes.length === 1 ? planes[0].surface : null
  const plane = document.space!.plane
  if (!surface || !plane || item.columns || source.length > MOST_PARTED)
    return { behind: null, before: item }
  if (!isFlat(plane.degree, scales)) return { behind: null, before: item }
  // The plane's slopes in the box, and on which side of it the eye is.
  const { across, up, depth } = scales
  const slope = (term: number, along: Scale): number => (term * up.factor) / along.factor
  const [, near, far] = [0, slope(surface.terms[1], across), slope(surface.terms[2], depth)]
  const eye = Math.sign(camera.near[1] - near * camera.near[0] - far * camera.near[2]) || 1
  const isBehind = source.map((i) =>
    Number(
      (up.toPage(marks.y[i]) - up.toPage(heightAt(surface, marks.x[i], marks.depth![i]))) * eye < 0,
    ),
  )
  const only = (wanted: number): MarksItem => {
    const keep = (_: unknown, k: number): boolean => isBehind[k] === wanted
    return { ...item, x: item.x.filter(keep), y: item.y.filter(keep), look: item.look.filter(keep) }
  }
  return { behind: only(1), before: only(0) }
}
