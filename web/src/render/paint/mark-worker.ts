/** Draws marks beside the page. The newest wish wins: what it overtakes is left unfinished. */
import { smallestGap } from '@/render/geometry/jitter'
import type { AffineMap } from '@/render/geometry/scale'
import { gridOf } from '@/render/geometry/pick'
import { laid } from '@/render/marks/places'
import type { ToWorker, Column, Part, FromWorker } from './mark-worker-client'
import type { MarkBars } from '@/render/scene'
import { overBars } from './bars'
import { areaOf } from './embedded'
import { shading } from './density'
import { rasterising, type Drawable, type Pixels } from './rasterise'

/** Marks between two looks at what has come meanwhile. */
const STRETCH = 50_000

const QUIET_MS = 1200

const gaps = new WeakMap<Float64Array, number>()

function gapOf(values: Float64Array): number {
  const known = gaps.get(values)
  if (known !== undefined) return known
  const gap = smallestGap(values)
  gaps.set(values, gap)
  return gap
}

const columns = new Map<number, Column>()
let newest = 0

const tell = (told: FromWorker, given: ArrayBufferLike[]): void =>
  postMessage(told, { transfer: given as ArrayBuffer[] })

const turn = new MessageChannel()
/** Lets what has come be heard. */
const hearing = (): Promise<void> =>
  new Promise((heard) => {
    turn.port1.onmessage = () => heard()
    turn.port2.postMessage(null)
  })

async function draw(asked: Extract<ToWorker, { kind: 'draw' }>): Promise<void> {
  const { wish, parts, scale } = asked
  newest = wish
  await hearing()
  if (newest !== wish) return
  // Cells of one row of a matrix share their places up, those of one column across.
  const known = new Map<string, Float32Array>()
  const placesOf = (id: number, laying: AffineMap): Float32Array => {
    const key = JSON.stringify([id, laying])
    const places = known.get(key) ?? laid(columns.get(id) as Float64Array, laying)
    known.set(key, places)
    return places
  }
  const pixels: Pixels[] = []
  for (const { columns: of, laying, how } of parts) {
    const x = placesOf(of.u, laying.across)
    const y = placesOf(of.v, laying.up)
    const look = columns.get(of.look) as Uint16Array
    const { left, top, width, height } = areaOf(how.clip, scale)
    const begin = overBars(how.density ? shading : rasterising)
    const bars = how.bars.map((one): MarkBars => {
      const along = one.side === 'x' ? laying.across : laying.up
      const [low, high] = [one.low, one.high].map((id) => columns.get(id) as Float64Array)
      const places = { low: placesOf(one.low, along), high: placesOf(one.high, along) }
      return { ...one, columns: { low, high }, ...places }
    })
    const cells = how.cells && {
      ...how.cells,
      counts: columns.get(how.cells.counts) as Float64Array,
    }
    const item: Drawable = { x, y, look, looks: how.looks, paper: how.paper, cells, bars }
    const pass = begin(item, width, height, scale, left / scale, top / scale)
    const stretches = Array.from(
      { length: Math.ceil(look.length / STRETCH) },
      (_, k) => () => pass.add(k * STRETCH, Math.min(look.length, (k + 1) * STRETCH)),
    )
    for (const stretch of [...stretches, ...(pass.besides ?? [])]) {
      stretch()
      await hearing()
      if (newest !== wish) return
    }
    pixels.push(pass.pixels())
  }
  const [one] = parts
  const single = parts.length === 1
  // Places go to the page as copies: the grid is made of them here.
  const places = single
    ? ([placesOf(one.columns.u, one.laying.across), placesOf(one.columns.v, one.laying.up)] as [
        Float32Array,
        Float32Array,
      ])
    : null
  tell(
    { kind: 'pictures', wish, pixels, places },
    pixels.map(({ data }) => data.buffer),
  )
  if (places) await prepare(wish, one, places)
}

/** Makes what the page will need next of one plot: what can be pointed at, and what jitter takes. */
async function prepare(
  wish: number,
  { how, columns: of }: Part,
  [x, y]: [Float32Array, Float32Array],
): Promise<void> {
  await hearing()
  if (newest !== wish) return
  const grid = gridOf(x, y, how.clip)
  if (newest !== wish) return
  tell({ kind: 'grid', wish, grid }, [grid.start.buffer, grid.marks.buffer])
  // What jitter will need takes long to find: while nothing else is wanted.
  await new Promise((quiet) => setTimeout(quiet, QUIET_MS))
  if (newest !== wish) return
  const [u, v] = [of.u, of.v].map((id) => gapOf(columns.get(id) as Float64Array))
  tell({ kind: 'gaps', wish, u, v }, [])
}

onmessage = ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'column') columns.set(data.id, data.values)
  else if (data.kind === 'forget') columns.delete(data.id)
  else
    void draw(data).catch((error: unknown) =>
      // Heard by the page, which draws by itself then.
      setTimeout(() => {
        throw error
      }),
    )
}
