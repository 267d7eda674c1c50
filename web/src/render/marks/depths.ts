/** Marks in a box: where they stand on the page, and paler, smaller and first the further away. */
import type { Marks } from '@/api/types'
import { mixed } from '@/render/colours'
import { growth, RADIUS, type Camera } from '@/render/geometry/camera'
import { placedAt, type PlacedMarks } from './places'
import type { Box, Colour, MarkLook, MarksItem } from '@/render/scene'
import type { Looks } from './looks'

/** Values in the box: from −½ to ½, up from −TALL/2; NaN where an axis has no place. */
export interface InBox {
  across: Float64Array
  up: Float64Array
  depth: Float64Array
  /** The answer's marks. */
  of: Marks
}

export interface Depths {
  fade: number
  shrink: number
}

/** In so many steps marks grow paler and smaller; fewer where every mark has a size of its own. */
const STEPS = 16
const MOST_LOOKS = 40_000
/** In so many steps marks are put in order. */
const LAYERS = 4096

interface Stepped {
  key: string
  steps: number
  looks: MarkLook[]
  /** Place in `looks` by the place of the plain look and the step. */
  at: Int32Array
}

/** The latest of each looks: those of a view are those of the next. */
const stepped = new WeakMap<readonly MarkLook[], Stepped>()

function steppedOf(
  looks: readonly MarkLook[],
  { fade, shrink }: Depths,
  perspective: number,
  paper: Colour,
): Stepped {
  const key = JSON.stringify([fade, shrink, perspective, paper])
  const known = stepped.get(looks)
  if (known?.key === key) return known
  const steps = Math.max(1, Math.min(STEPS, Math.floor(MOST_LOOKS / looks.length)))
  const made = { key, steps, looks: [], at: new Int32Array(looks.length * steps).fill(-1) }
  stepped.set(looks, made)
  return made
}

/** A look at a share of the depth: 0 at the eye's end of the box, 1 at the far one. */
export function lookAt(
  look: MarkLook,
  share: number,
  { fade, shrink }: Depths,
  perspective: number,
  paper: Colour,
): MarkLook {
  const pale = 1 - fade * share
  const by = (1 - shrink * share) * growth({ perspective } as Camera, 1 - 2 * share)
  return {
    ...look,
    size: look.size * by,
    halo: look.halo * by,
    colour: mixed(look.colour, paper, pale),
    edge: look.edge && mixed(look.edge, paper, pale),
  }
}

/**
 * Puts marks on the page, the furthest first.
 *
 * @param most so many at most, evenly from all: while a hand turns the box
 */
export function placeInBox(
  inBox: InBox,
  made: Looks,
  camera: Camera,
  depths: Depths,
  clip: Box,
  paper: Colour,
  most = Infinity,
): PlacedMarks {
  const key = JSON.stringify([camera, depths.fade, depths.shrink, clip, paper, most])
  const known = latest.get(inBox)
  if (known?.key === key && known.made === made) return known.placed
  const placed = placedIn(inBox, made, camera, depths, clip, paper, most)
  latest.set(inBox, { key, made, placed })
  return placed
}

/** The latest places: what is drawn beside the page is the same as long as they are. */
const latest = new WeakMap<InBox, { key: string; made: Looks; placed: PlacedMarks }>()

function placedIn(
  { across, up, depth, of }: InBox,
  made: Looks,
  camera: Camera,
  depths: Depths,
  clip: Box,
  paper: Colour,
  most: number,
): PlacedMarks {
  const count = across.length
  const stride = Math.max(1, Math.ceil(count / most))
  const { right, down, near, middle, unit, perspective } = camera
  const wanted = Math.ceil(count / stride)
  const key = new Int32Array(wanted).fill(-1)
  const px = new Float64Array(wanted)
  const py = new Float64Array(wanted)
  const starts = new Uint32Array(LAYERS + 1)
  let off = 0
  for (let k = 0, i = 0; k < wanted; k++, i += stride) {
    const [u, v, w] = [across[i], up[i], depth[i]]
    const towards = near[0] * u + near[1] * v + near[2] * w
    if (towards !== towards) {
      off++
      continue
    }
    const by = unit / (1 - perspective * towards)
    px[k] = middle[0] + by * (right[0] * u + right[1] * v + right[2] * w)
    py[k] = middle[1] + by * (down[0] * u + down[1] * v + down[2] * w)
    const layer = Math.max(
      0,
      Math.min(LAYERS - 1, Math.floor(((towards / RADIUS + 1) / 2) * LAYERS)),
    )
    key[k] = layer
    starts[layer + 1]++
  }
  for (let layer = 0; layer < LAYERS; layer++) starts[layer + 1] += starts[layer]
  const drawn = wanted - off
  const x = new Float64Array(drawn)
  const y = new Float64Array(drawn)
  const source = new Uint32Array(drawn)
  const look = new Uint16Array(drawn)
  const { steps, looks, at } = steppedOf(made.looks, depths, perspective, paper)
  for (let k = 0; k < wanted; k++) {
    const layer = key[k]
    if (layer < 0) continue
    const place = starts[layer]++
    const i = k * stride
    x[place] = px[k]
    y[place] = py[k]
    source[place] = i
    const step = Math.min(steps - 1, Math.floor(((LAYERS - 1 - layer) / LAYERS) * steps))
    const cell = made.of[i] * steps + step
    if (at[cell] < 0) {
      at[cell] = looks.length
      const share = steps > 1 ? step / (steps - 1) : 0
      looks.push(lookAt(made.looks[made.of[i]], share, depths, perspective, paper))
    }
    look[place] = at[cell]
  }
  return placedAt(
    { x, y, look, looks, source, count: of.row.length, off, isRough: stride > 1 },
    clip,
    paper,
  )
}

/** Shadows of marks on a wall: pale, and nothing of what the marks look like. */
export function shadowsOn(
  { across, up, depth }: InBox,
  onto: { axis: 'across' | 'up' | 'depth'; at: number },
  camera: Camera,
  size: number,
  clip: Box,
  paper: Colour,
  ink: Colour,
): MarksItem {
  const { right, down, near, middle, unit, perspective } = camera
  const x: number[] = []
  const y: number[] = []
  for (let i = 0; i < across.length; i++) {
    if (Number.isNaN(across[i] + up[i] + depth[i])) continue
    const u = onto.axis === 'across' ? onto.at : across[i]
    const v = onto.axis === 'up' ? onto.at : up[i]
    const w = onto.axis === 'depth' ? onto.at : depth[i]
    const by = unit / (1 - perspective * (near[0] * u + near[1] * v + near[2] * w))
    x.push(middle[0] + by * (right[0] * u + right[1] * v + right[2] * w))
    y.push(middle[1] + by * (down[0] * u + down[1] * v + down[2] * w))
  }
  return {
    kind: 'marks',
    part: 'space',
    x: Float32Array.from(x),
    y: Float32Array.from(y),
    look: new Uint16Array(x.length),
    looks: [
      {
        shape: 'disc',
        size,
        colour: ink,
        opacity: x.length > 3000 ? 0.08 : 0.22,
        hollow: false,
        halo: 0,
        edge: null,
      },
    ],
    paper,
    clip,
    density: false,
  }
}
