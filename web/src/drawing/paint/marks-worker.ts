/** Draws marks beside the page. The newest wish wins: what it overtakes is left unfinished. */
import { smallestGap } from '@/drawing/geometry/jitter'
import { gridOf } from '@/drawing/geometry/pick'
import { laid } from '@/drawing/marks/places'
import type { Asked, Column, Told } from './beside'
import { areaOf } from './canvas'
import { shading } from './density'
import { rasterising, type Drawable } from './rasterise'

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

const tell = (told: Told, given: ArrayBufferLike[]): void =>
  postMessage(told, { transfer: given as ArrayBuffer[] })

const turn = new MessageChannel()
/** Lets what has come be heard. */
const hearing = (): Promise<void> =>
  new Promise((heard) => {
    turn.port1.onmessage = () => heard()
    turn.port2.postMessage(null)
  })

async function draw(asked: Extract<Asked, { kind: 'draw' }>): Promise<void> {
  const { wish, laying, how, scale } = asked
  newest = wish
  await hearing()
  if (newest !== wish) return
  const [u, v, look] = (['u', 'v', 'look'] as const).map((name) =>
    columns.get(asked.columns[name]),
  ) as [Float64Array, Float64Array, Uint16Array]
  const x = laid(u, laying.across)
  const y = laid(v, laying.up)
  const item: Drawable = { x, y, look, looks: how.looks, paper: how.paper }
  const { left, top, width, height } = areaOf(how.clip, scale)
  const begin = how.density ? shading : rasterising
  const pass = begin(item, width, height, scale, left / scale, top / scale)
  for (let from = 0; from < look.length; from += STRETCH) {
    pass.add(from, Math.min(look.length, from + STRETCH))
    await hearing()
    if (newest !== wish) return
  }
  const pixels = pass.pixels()
  // The places go to the page as copies: the grid is made of them here.
  tell({ kind: 'picture', wish, pixels, x, y }, [pixels.data.buffer])
  await hearing()
  if (newest !== wish) return
  const grid = gridOf(x, y, how.clip)
  if (newest !== wish) return
  tell({ kind: 'grid', wish, grid }, [grid.start.buffer, grid.marks.buffer])
  // What jitter will need takes long to find: while nothing else is wanted.
  await new Promise((quiet) => setTimeout(quiet, QUIET_MS))
  if (newest === wish) tell({ kind: 'gaps', wish, u: gapOf(u), v: gapOf(v) }, [])
}

onmessage = ({ data }: MessageEvent<Asked>) => {
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
