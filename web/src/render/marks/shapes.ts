/**
 * Marker shapes as contours. At one size setting every shape covers the area of a disc of that
 * diameter: equal ink.
 */

export type Shape =
  | 'disc'
  | 'ring'
  | 'drop'
  | 'square'
  | 'diamond'
  | 'triangle'
  | 'wedge'
  | 'plus'
  | 'cross'
  | 'star'
  | 'bar'

/** Corner points, x and y in turn, about (0, 0); y runs down. */
export type Contour = readonly number[]

const CORNERS = 64

/** Corners of a circle, x and y in turn. */
export const circle = (radius: number, x = 0, y = 0, corners = CORNERS): number[] =>
  Array.from({ length: corners }, (_, i) => {
    const angle = (2 * Math.PI * i) / corners
    return [x + radius * Math.cos(angle), y + radius * Math.sin(angle)]
  }).flat()

const turned = (contour: Contour, degrees: number): number[] => {
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
  const out: number[] = []
  for (let i = 0; i < contour.length; i += 2)
    out.push(contour[i] * c - contour[i + 1] * s, contour[i] * s + contour[i + 1] * c)
  return out
}

const polygon = (corners: number, first: number): number[] =>
  Array.from({ length: corners }, (_, i) => {
    const angle = ((first + (360 * i) / corners) * Math.PI) / 180
    return [Math.cos(angle), Math.sin(angle)]
  }).flat()

/** Arms of a width, from the centre, as one outline. */
function rays(count: number, first: number, halfWidth: number): number[] {
  const out: number[] = []
  const reach = halfWidth / Math.tan(Math.PI / count)
  for (let i = 0; i < count; i++) {
    const arm = [reach, -halfWidth, 1, -halfWidth, 1, halfWidth]
    out.push(...turned(arm, first + (360 * i) / count))
  }
  return out
}

/** A disc drawn out to a point above. */
function drop(): number[] {
  const out: number[] = []
  for (let i = 0; i <= CORNERS; i++) {
    const angle = ((-30 + (240 * i) / CORNERS) * Math.PI) / 180
    out.push(Math.cos(angle), Math.sin(angle))
  }
  return [...out, 0, -2]
}

const PLAIN: Record<Shape, readonly Contour[]> = {
  disc: [circle(1)],
  ring: [circle(1), turned(circle(0.62), 0)],
  drop: [drop()],
  square: [[-1, -1, 1, -1, 1, 1, -1, 1]],
  diamond: [[0, -1.25, 1, 0, 0, 1.25, -1, 0]],
  triangle: [polygon(3, -90)],
  wedge: [polygon(3, 90)],
  plus: [rays(4, 0, 0.3)],
  cross: [rays(4, 45, 0.3)],
  star: [rays(6, -90, 0.2)],
  bar: [[-1, -0.32, 1, -0.32, 1, 0.32, -1, 0.32]],
}

export function areaOf(contour: Contour): number {
  let twice = 0
  for (let i = 0; i < contour.length; i += 2) {
    const j = (i + 2) % contour.length
    twice += contour[i] * contour[j + 1] - contour[j] * contour[i + 1]
  }
  return Math.abs(twice) / 2
}

/** Area of a shape; a second contour is a hole in the first. */
export const inkOf = (contours: readonly Contour[]): number =>
  contours.reduce((sum, contour, i) => sum + (i === 0 ? 1 : -1) * areaOf(contour), 0)

export const SHAPES = Object.keys(PLAIN) as Shape[]

/** Contours of a shape whose ink is that of a disc of diameter 1. */
export const CONTOURS: Record<Shape, readonly Contour[]> = Object.fromEntries(
  SHAPES.map((shape) => {
    const factor = Math.sqrt(Math.PI / 4 / inkOf(PLAIN[shape]))
    return [shape, PLAIN[shape].map((contour) => contour.map((v) => v * factor))]
  }),
) as unknown as Record<Shape, readonly Contour[]>
