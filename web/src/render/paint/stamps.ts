/**
 * Coverage stamps: a mark drawn once at each sub-pixel phase, then blended wherever it stands.
 * A stamp may be any shape, so all shapes cost the same.
 */
import { lruCache } from '@/lib/lru-cache'
import type { Colour, MarkLook } from '@/render/scene'
import { CONTOURS, type Contour } from '@/render/marks/shapes'

/** Phases along each axis for small marks; larger ones need fewer to look as smooth. */
const MOST_PHASES = 8
const SUBROWS = 8
/** Stroke of a hollow mark, in points. */
export const HOLLOW_STROKE = 1.1

/** The pixels of a stamp that hold ink. */
export interface Stamp {
  /** Runs of inked pixels, three numbers each: from the mark's pixel, right and down, and length. */
  runs: Int16Array
  /** Premultiplied colour of each inked pixel in turn, packed as the buffer's bytes lie. */
  colour: Int32Array
  /** What is kept of the pixel below, out of 256. */
  keep: Uint16Array
  /** How far the stamp reaches from the mark's pixel. */
  reach: number
}

export interface Stamps {
  phases: number
  at: (phaseX: number, phaseY: number) => Stamp
}

/** Crossings of each scan line, kept from stamp to stamp. */
const lines: number[][] = []

/** Share of each pixel that contours cover, by scan lines; even-odd, exact along the line. */
export function coverage(
  contours: readonly Contour[],
  size: number,
  centreX: number,
  centreY: number,
  width: number,
): Float32Array {
  const count = width * SUBROWS
  for (let line = 0; line < count; line++) {
    if (line < lines.length) lines[line].length = 0
    else lines.push([])
  }
  // An edge is asked only for the few lines that it can cross.
  for (const contour of contours)
    for (let i = 0; i < contour.length; i += 2) {
      const j = (i + 2) % contour.length
      const y0 = contour[i + 1] * size + centreY
      const y1 = contour[j + 1] * size + centreY
      const x0 = contour[i] * size + centreX
      const x1 = contour[j] * size + centreX
      const first = Math.max(0, Math.floor(Math.min(y0, y1) * SUBROWS) - 1)
      const last = Math.min(count - 1, Math.ceil(Math.max(y0, y1) * SUBROWS))
      for (let line = first; line <= last; line++) {
        const y = (line + 0.5) / SUBROWS
        if (y0 <= y !== y1 <= y) lines[line].push(x0 + ((y - y0) / (y1 - y0)) * (x1 - x0))
      }
    }
  const out = new Float32Array(width * width)
  for (let line = 0; line < count; line++) {
    const crossings = lines[line]
    if (crossings.length > 2) crossings.sort((a, b) => a - b)
    else if (crossings.length === 2 && crossings[1] < crossings[0]) crossings.reverse()
    const start = Math.floor(line / SUBROWS) * width
    for (let k = 0; k + 1 < crossings.length; k += 2)
      fill(out, start, width, crossings[k], crossings[k + 1])
  }
  return out
}

function fill(out: Float32Array, start: number, width: number, from: number, to: number): void {
  const low = Math.max(0, from)
  const high = Math.min(width, to)
  for (let x = Math.floor(low); x < high; x++)
    out[start + x] += (Math.min(x + 1, high) - Math.max(x, low)) / SUBROWS
}

/** Coverage grown outwards by a distance: the largest among copies shifted all round. */
function grown(
  contours: readonly Contour[],
  size: number,
  centre: readonly [number, number],
  width: number,
  by: number,
): Float32Array {
  const out = coverage(contours, size, centre[0], centre[1], width)
  for (let i = 0; i < 12; i++) {
    const angle = (i * Math.PI) / 6
    const shifted = coverage(
      contours,
      size,
      centre[0] + by * Math.cos(angle),
      centre[1] + by * Math.sin(angle),
      width,
    )
    for (let p = 0; p < out.length; p++) if (shifted[p] > out[p]) out[p] = shifted[p]
  }
  return out
}

/** Sets of stamps made lately; while a figure is moved or zoomed they are the same each time. */
const known = lruCache<string, Stamps>(4096)

/**
 * Stamps of one look.
 *
 * @param scale device pixels per point
 */
export function stampsOf(look: MarkLook, paper: Colour, scale: number): Stamps {
  return known.of(JSON.stringify([look, paper, scale]), () => makeStamps(look, paper, scale))
}

function makeStamps(look: MarkLook, paper: Colour, scale: number): Stamps {
  const size = look.size * scale
  const phases = size > 48 ? 2 : size > 20 ? 4 : MOST_PHASES
  const made = new Array<Stamp | undefined>(phases * phases)
  return {
    phases,
    at: (phaseX, phaseY) =>
      (made[phaseY * phases + phaseX] ??= makeStamp(look, paper, scale, [
        (phaseX + 0.5) / phases,
        (phaseY + 0.5) / phases,
      ])),
  }
}

/** How much of each pixel a mark inks, and how much it covers with the hairline round it. */
interface Covered {
  core: Float32Array
  outer: Float32Array
  width: number
  reach: number
}

/** Coverage does not depend on colour, so that looks which differ in colour alone share it. */
const covered = lruCache<string, Covered>(4096)

function makeStamp(
  look: MarkLook,
  paper: Colour,
  scale: number,
  phase: readonly [number, number],
): Stamp {
  const { shape, size, halo, hollow } = look
  const key = JSON.stringify([shape, size, halo, hollow, scale, phase])
  const cover = covered.of(key, () => coverOf(look, scale, phase))
  return pack(cover, look, paper)
}

function coverOf(look: MarkLook, scale: number, phase: readonly [number, number]): Covered {
  const contours = CONTOURS[look.shape]
  const size = look.size * scale
  const halo = look.halo * scale
  let extent = 0
  for (const contour of contours)
    for (const v of contour) if (Math.abs(v) > extent) extent = Math.abs(v)
  const reach = Math.ceil(extent * size + halo) + 1
  const width = 2 * reach + 1
  const centre = [reach + phase[0], reach + phase[1]] as const
  const ink = coverage(contours, size, centre[0], centre[1], width)
  if (look.hollow) {
    // A hollow mark is its outline; its inside is paper, so that what lies below does not confuse.
    const inside = Math.max(0, size - 2 * HOLLOW_STROKE * scale)
    const inner = coverage(contours, inside, centre[0], centre[1], width)
    return { core: ink.map((v, p) => Math.max(0, v - inner[p])), outer: ink, width, reach }
  }
  const outer = halo > 0 ? grown(contours, size, centre, width, halo) : ink
  return { core: ink, outer, width, reach }
}

function pack({ core, outer, width, reach }: Covered, look: MarkLook, paper: Colour): Stamp {
  const runs: number[] = []
  const colour: number[] = []
  const keep: number[] = []
  for (let p = 0; p < core.length; p++) {
    const inked = Math.min(1, core[p]) * look.opacity
    const around = Math.max(0, Math.min(1, outer[p]) - Math.min(1, core[p])) * look.opacity
    const alpha = inked + around
    if (alpha < 1 / 512) continue
    const kept = 256 - Math.round(alpha * 256)
    // What a channel may hold so that adding it to a full channel below, rounded, cannot overflow.
    const most = 255 - ((255 * kept + 128) >> 8)
    const [red, green, blue] = [0, 1, 2].map((i) =>
      Math.min(most, Math.round(look.colour[i] * inked + (look.edge ?? paper)[i] * around)),
    )
    const right = (p % width) - reach
    const down = Math.floor(p / width) - reach
    const last = runs.length - 3
    if (last >= 0 && runs[last + 1] === down && runs[last] + runs[last + 2] === right)
      runs[last + 2]++
    else runs.push(right, down, 1)
    const alphaByte = Math.min(most, Math.round(alpha * 255))
    colour.push((alphaByte << 24) | (blue << 16) | (green << 8) | red)
    keep.push(kept)
  }
  return {
    runs: Int16Array.from(runs),
    colour: Int32Array.from(colour),
    keep: Uint16Array.from(keep),
    reach,
  }
}
