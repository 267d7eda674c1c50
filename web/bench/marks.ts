/** The drawing modules, put where a measurement in the browser finds them. */
import { Obstacles } from '@/render/placement/obstacles'
import { CATEGORIES, PAPER } from '../src/render/colours'
import { shade } from '../src/render/paint/density'
import { placeNames } from '../src/render/placement/names'
import { indexMarks } from '../src/render/geometry/pick'
import { rasterise } from '../src/render/paint/rasterise'
import type { MarksItem } from '../src/render/scene'

const WIDTH = 900
const HEIGHT = 600

/** Marks of radius 3 in five colours, spread evenly; the same at every call. */
function randomMarks(count: number): MarksItem {
  let seed = 20310401
  const next = () => (seed = (seed * 1103515245 + 12345) % 2147483648) / 2147483648
  return {
    kind: 'marks',
    density: false,
    part: 'marks',
    x: Float32Array.from({ length: count }, () => next() * WIDTH),
    y: Float32Array.from({ length: count }, () => next() * HEIGHT),
    look: Uint16Array.from({ length: count }, (_, i) => i % 5),
    looks: CATEGORIES.slice(0, 5).map((colour) => ({
      shape: 'disc',
      size: 6,
      colour,
      opacity: 0.4,
      hollow: false,
      halo: 0,
      edge: null,
    })),
    paper: PAPER,
    clip: { x: 0, y: 0, width: WIDTH, height: HEIGHT },
  }
}

/** Names on the first of so many marks. */
function namesOn(count: number, named: number): () => unknown {
  const { x, y, clip } = randomMarks(count)
  const names = Array.from({ length: named }, (_, row) => ({
    row,
    x: x[row],
    y: y[row],
    radius: 3,
    width: 42,
    height: 13,
    moved: null,
  }))
  const asLaid = { from: 0, factor: 1, start: 0 }
  const round = { u: x, v: y, across: asLaid, down: asLaid }
  return () => placeNames(names, { ...round, radius: () => 3, widest: 3 }, new Obstacles(clip))
}

Object.assign(window, { bench: { rasterise, shade, indexMarks, namesOn, randomMarks } })
