/** Planes in the box: wires and a veil between them, lines of residuals, and what is read off. */
import type { Answer, FigureDocument, Marks } from '@/api/types'
import { fromHex, INK } from '@/render/colours'
import { corners } from '@/render/geometry/boxes'
import { onPage, TALL, type Camera } from '@/render/geometry/camera'
import type { Scale } from '@/render/geometry/scale'
import { dateText, GAP, valueMarkup } from '@/render/geometry/ticks'
import { colourOn } from '@/render/marks/looks'
import type { Colour, Item } from '@/render/scene'
import { penFor } from '@/render/text/lettering'
import { parseRuns, widthOf, type Measure } from '@/render/text/text'

export type PlaneReport = NonNullable<Answer['space']>['planes'][number]
export type Surface = NonNullable<PlaneReport['surface']>
export type Scales3 = Record<'across' | 'up' | 'depth', Scale>

const WIRES = 8
const STRETCHES = 24
/** So many lines of residuals, or to the floor, and no more: they would cover everything. */
export const MOST_LINES = 5000

/** What goes up at a place of the floor, in the axes' own units. */
export function heightAt({ terms, middle }: Surface, across: number, depth: number): number {
  const [u, v] = [across - middle[0], depth - middle[1]]
  const powers = [1, u, v, u * u, u * v, v * v]
  return terms.reduce((sum, term, i) => sum + term * powers[i], 0)
}

export function planeColour(
  document: FigureDocument,
  { colour }: Answer,
  { group_code: code }: PlaneReport,
): Colour {
  const own = document.space?.plane?.colour
  if (own) return fromHex(own)
  return code === null || colour === null ? INK : colourOn(document, colour, code)
}

type Corner = [number, number, number]

/** The surfaces, which lie below or above the marks as they are told. */
export function planeItems(
  document: FigureDocument,
  answer: Answer,
  scales: Scales3,
  camera: Camera,
): Item[] {
  const plane = document.space?.plane
  if (!plane) return []
  return answer.space!.planes.flatMap((report) => {
    const { surface } = report
    if (!surface) return []
    const colour = planeColour(document, answer, report)
    const ends = endsWithin(surface, scales)
    if (!ends) return []
    const at = (s: number, t: number): Corner => {
      const x = between(ends.across, s)
      const z = between(ends.depth, t)
      return [
        scales.across.toPage(x),
        scales.up.toPage(heightAt(surface, x, z)),
        scales.depth.toPage(z),
      ]
    }
    const items: Item[] = []
    if (plane.fill > 0)
      items.push(
        ...veil(at, isFlat(plane.degree, scales)).map((corners): Item => ({
          kind: 'path',
          part: 'space',
          points: Float64Array.from(corners.flatMap((corner) => onPage(camera, corner))),
          closed: true,
          fill: colour,
          fillOpacity: plane.fill,
        })),
      )
    if (plane.grid) {
      const points: number[] = []
      for (let i = 0; i <= WIRES; i++)
        for (const wire of [
          (t: number) => at(i / WIRES, t),
          (s: number) => at(s, i / WIRES),
        ] as const)
          for (let k = 0; k < STRETCHES; k++) {
            const cut = clipped(wire(k / STRETCHES), wire((k + 1) / STRETCHES))
            if (cut) points.push(...cut.flatMap((corner) => onPage(camera, corner)))
          }
      items.push({
        kind: 'segments',
        part: 'space',
        points: Float64Array.from(points),
        stroke: colour,
        // Lighter than the marks: they are what was measured.
        opacity: 0.42,
        width: plane.width,
      })
    }
    return items
  })
}

const between = ([low, high]: readonly [number, number], share: number): number =>
  low + (high - low) * share

/** Whether a surface is flat in the box, too, where axes may bend it. */
export const isFlat = (degree: number, scales: Scales3): boolean =>
  degree === 1 &&
  Object.values(scales).every(({ warp, domain }) => warp.forward(domain[1]) === domain[1])

/** The part of the data's floor that the axes show. */
function endsWithin({ across, depth }: Surface, scales: Scales3) {
  const cut = ([low, high]: readonly [number, number], { domain }: Scale): [number, number] => [
    Math.max(low, domain[0]),
    Math.min(high, domain[1]),
  ]
  const ends = { across: cut(across, scales.across), depth: cut(depth, scales.depth) }
  return ends.across[0] < ends.across[1] && ends.depth[0] < ends.depth[1] ? ends : null
}

/** The part of a line that lies in the box; null where none does. */
function clipped(a: Corner, b: Corner): [Corner, Corner] | null {
  const [low, high] = [-TALL / 2, TALL / 2]
  if (!Number.isFinite(a[1] + b[1])) return null
  if ((a[1] < low && b[1] < low) || (a[1] > high && b[1] > high)) return null
  const cut = (from: Corner, to: Corner): Corner => {
    const at = from[1] < low ? low : from[1] > high ? high : null
    if (at === null) return from
    const share = (at - from[1]) / (to[1] - from[1])
    return [from[0] + share * (to[0] - from[0]), at, from[2] + share * (to[2] - from[2])]
  }
  return [cut(a, b), cut(b, a)]
}

/** Outlines of the surface within the box: one where it is flat, else one for each of its fields. */
function veil(at: (s: number, t: number) => Corner, flat: boolean): Corner[][] {
  const fields = flat ? 1 : WIRES
  const found: Corner[][] = []
  for (let i = 0; i < fields; i++)
    for (let k = 0; k < fields; k++) {
      const [s0, s1, t0, t1] = [i, i + 1, k, k + 1].map((n) => n / fields)
      const outline = within([at(s0, t0), at(s1, t0), at(s1, t1), at(s0, t1)])
      if (outline.length > 2) found.push(outline)
    }
  return found
}

/** Cuts an outline at the box's floor and at its ceiling (Sutherland and Hodgman 1974). */
function within(outline: Corner[]): Corner[] {
  const cutAt = (corners: Corner[], holds: (up: number) => boolean, at: number): Corner[] =>
    corners.flatMap((corner, i) => {
      const next = corners[(i + 1) % corners.length]
      const [inside, follows] = [holds(corner[1]), holds(next[1])]
      const share = (at - corner[1]) / (next[1] - corner[1])
      const crossing: Corner = [
        corner[0] + share * (next[0] - corner[0]),
        at,
        corner[2] + share * (next[2] - corner[2]),
      ]
      return [...(inside ? [corner] : []), ...(inside !== follows ? [crossing] : [])]
    })
  if (!outline.every((corner) => corner.every(Number.isFinite))) return []
  const half = TALL / 2
  return cutAt(
    cutAt(outline, (up) => up >= -half, -half),
    (up) => up <= half,
    half,
  )
}

/** The plane that a mark belongs to: that of its colour, or the one there is. */
export function planeOfMark(answer: Answer, marks: Marks): (i: number) => PlaneReport | null {
  const planes = answer.space!.planes.filter(({ surface }) => surface)
  if (planes.length === 1 && planes[0].group === null) return () => planes[0]
  const byCode = new Map(planes.map((one) => [one.group_code, one]))
  const { colour } = marks
  if (byCode.has(null) || !colour || answer.colour?.scale !== 'category') return () => null
  return (i) => byCode.get(colour[i]) ?? null
}

/** A line from each mark to its plane. */
export function residualItems(
  document: FigureDocument,
  answer: Answer,
  marks: Marks,
  scales: Scales3,
  camera: Camera,
): Item[] {
  if (!document.space?.plane?.residuals || marks.row.length > MOST_LINES) return []
  const planeOf = planeOfMark(answer, marks)
  const by = new Map<PlaneReport, number[]>()
  for (let i = 0; i < marks.row.length; i++) {
    const report = marks.aside[i] ? null : planeOf(i)
    if (!report) continue
    const u = scales.across.toPage(marks.x[i])
    const w = scales.depth.toPage(marks.depth![i])
    const to = scales.up.toPage(heightAt(report.surface!, marks.x[i], marks.depth![i]))
    const cut =
      Math.abs(u) <= 0.5 && Math.abs(w) <= 0.5
        ? clipped([u, scales.up.toPage(marks.y[i]), w], [u, to, w])
        : null
    if (!cut) continue
    const points = by.get(report) ?? []
    points.push(...cut.flatMap((corner) => onPage(camera, corner)))
    by.set(report, points)
  }
  return [...by].map(([report, points]) => ({
    kind: 'segments',
    part: 'space',
    points: Float64Array.from(points),
    stroke: planeColour(document, answer, report),
    // Many of them would hide what they lead from.
    opacity: points.length > 800 ? 0.22 : 0.55,
    width: 0.9,
  }))
}

/** What is read off: a line from the floor, a point on the plane, and its value beside it. */
export function placesReadOff(
  document: FigureDocument,
  answer: Answer,
  scales: Scales3,
  camera: Camera,
  measure: Measure,
): Item[] {
  const { variable } = answer.y
  const pen = penFor(document, 'readings')
  return answer.space!.planes.flatMap((report) =>
    report.readings.flatMap(({ places: [across, depth, up], name }): Item[] => {
      if (across === null || depth === null || up === null) return []
      const at: Corner = [
        scales.across.toPage(across),
        scales.up.toPage(up),
        scales.depth.toPage(depth),
      ]
      if (!at.every(Number.isFinite) || Math.abs(at[0]) > 0.5 || Math.abs(at[2]) > 0.5) return []
      const [x, y] = onPage(camera, at)
      const colour = planeColour(document, answer, report)
      const value =
        variable.kind === 'date'
          ? dateText(up)
          : valueMarkup(Number(up.toPrecision(4))) + (variable.unit ? GAP + variable.unit : '')
      const runs = parseRuns(name ? `${name}: ${value}` : value)
      const width = widthOf(runs, pen, measure) + 6
      return [
        {
          kind: 'segments',
          part: 'space',
          points: Float64Array.of(x, y, ...onPage(camera, [at[0], -TALL / 2, at[2]])),
          stroke: colour,
          opacity: 0.9,
          width: 1,
        },
        {
          kind: 'path',
          part: 'space',
          points: Float64Array.of(x - 3, y, x, y - 3, x + 3, y, x, y + 3),
          closed: true,
          fill: colour,
        },
        {
          kind: 'path',
          part: 'space',
          points: corners({ x: x + 6, y: y - 6 - pen.size, width, height: pen.size * 1.3 }),
          closed: true,
          fill: fromHex(document.page.background),
          fillOpacity: 0.85,
        },
        {
          kind: 'text',
          part: 'space',
          x: x + 9,
          y: y - 5,
          runs,
          ...pen,
          colour,
          anchor: 'start',
          turn: 0,
        },
      ]
    }),
  )
}
