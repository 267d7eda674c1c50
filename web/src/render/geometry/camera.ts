/**
 * How a box of three axes is seen. In the box: across and into the depth from −½ to ½, up from
 * −`TALL`/2 to `TALL`/2. It is turned about its upright axis, then tipped, then laid on the page, by
 * parallel lines or by perspective.
 */
import type { Box } from '@/render/scene'

/** How tall the box is beside its width. */
export const TALL = 0.8
/** From the middle of the box to its corners. */
export const RADIUS = Math.hypot(0.5, 0.5, TALL / 2)
/** From the middle to the eye at full perspective. */
const NEAREST_EYE = 2.4
/** How wide the box is on the page: a little less than it is at most, seen from an edge. */
const WIDE = 1.3
const RADIANS = Math.PI / 180

/** From where the box is seen. */
export interface Seen {
  /** Degrees about the upright axis. */
  around: number
  /** Degrees above the floor. */
  above: number
  /** 1 where the whole box is seen. */
  closeness: number
}

export type Place3 = readonly [across: number, up: number, depth: number]

export interface Camera {
  seen: Seen
  /** One over the distance of the eye: 0 for parallel lines. */
  perspective: number
  /** How the page's axes run in the box: right, down, and towards the eye. */
  right: Place3
  down: Place3
  near: Place3
  /** Where the middle of the box stands on the page. */
  middle: readonly [number, number]
  /** Points on the page for one in the box, at its middle. */
  unit: number
}

/** The camera that shows the box within a part of the page. */
export function cameraOf(seen: Seen, perspective: number, room: Box): Camera {
  const [turn, tip] = [seen.around * RADIANS, seen.above * RADIANS]
  const [c, s] = [Math.cos(turn), Math.sin(turn)]
  const [ct, st] = [Math.cos(tip), Math.sin(tip)]
  // So that nothing swells while the box is turned about, its size goes with the tip alone.
  const high = TALL * Math.abs(ct) + WIDE * Math.abs(st)
  const grows = 1 + perspective * 0.22
  return {
    seen,
    perspective: perspective / NEAREST_EYE,
    right: [c, 0, -s],
    down: [-s * st, -ct, -c * st],
    near: [-s * ct, st, -c * ct],
    middle: [room.x + room.width / 2, room.y + room.height / 2],
    unit: Math.min(room.width / (WIDE * grows), room.height / (high * grows)) * seen.closeness,
  }
}

const dot = (a: Place3, b: Place3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2]

/** How near the eye a place is: from −1, far, to 1. */
export const nearness = (camera: Camera, at: Place3): number => dot(camera.near, at) / RADIUS

/** How much larger things are drawn at a nearness than at the middle of the box. */
export const growth = ({ perspective }: Camera, near: number): number =>
  1 / (1 - perspective * near * RADIUS)

/** Where a place in the box stands on the page. */
export function onPage(camera: Camera, at: Place3): [number, number] {
  const { right, down, middle, unit } = camera
  const by = unit * growth(camera, nearness(camera, at))
  return [middle[0] + by * dot(right, at), middle[1] + by * dot(down, at)]
}

/** Whether a face of the box, by its outward normal, is turned towards the eye. */
export function isNear({ near, perspective }: Camera, normal: Place3): boolean {
  const half = normal[1] ? TALL / 2 : 0.5
  return dot(near, normal) > perspective * half + 1e-9
}

/** Keeps a view within what can be seen: a turn has no end, a tip ends above and below. */
export const within = ({ around, above, closeness }: Seen): Seen => ({
  around: (Number((((around + 180) % 360) + 360).toFixed(3)) % 360) - 180,
  above: Number(Math.max(-90, Math.min(90, above)).toFixed(3)),
  closeness: Number(Math.max(0.3, Math.min(8, closeness)).toFixed(4)),
})
