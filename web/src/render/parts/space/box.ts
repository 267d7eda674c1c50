/** The box of a 3-D scatterplot: the walls that face the eye, their gridlines, and three axes. */
import type { Axis } from '@/api/types'
import { fromHex } from '@/render/colours'
import { grown, meets } from '@/render/geometry/boxes'
import { isNear, nearness, onPage, TALL, type Camera, type Place3 } from '@/render/geometry/camera'
import type { Scale } from '@/render/geometry/scale'
import { ticksOf, type Tick, type Ticks } from '@/render/geometry/ticks'
import { styleOf, type Pens } from '@/render/parts/axes'
import type { Box, Colour, Item, Part, TextItem } from '@/render/scene'
import { parseRuns, widthOf, wrap, type Measure, type Run } from '@/render/text/text'

export type Way = 'across' | 'up' | 'depth'

/** An axis of the box: its scale runs from one face to the other. */
export interface BoxAxis {
  way: Way
  part: Part
  axis: Axis
  scale: Scale
  isDate: boolean
  title: string
}

const WALL: Colour = fromHex('#f6f8f6')
const GRID: Colour = fromHex('#dde4df')
const EDGE: Colour = fromHex('#c3cdc7')
const HALF: Record<Way, number> = { across: 0.5, up: TALL / 2, depth: 0.5 }
const WAYS: readonly Way[] = ['across', 'up', 'depth']
const OTHERS: Record<Way, readonly [Way, Way]> = {
  across: ['up', 'depth'],
  up: ['across', 'depth'],
  depth: ['up', 'across'],
}
const TICK = 5
const GAP = 4
const TITLE_GAP = 7
const LINE = 1.25
/** An axis that is seen from its end has no room for ticks. */
const SHORTEST = 46
const MOST_TITLE = 190
/** Room between labels, in shares of their height. */
const APART = 0.35
/** So many labels tell how an axis runs. */
const FEW = 3

type Sign = -1 | 1
type Place = Record<Way, number>

const place3 = ({ across, up, depth }: Place): Place3 => [across, up, depth]
const normal = (way: Way, sign: Sign): Place3 =>
  place3({ across: 0, up: 0, depth: 0, [way]: sign } as Place)

const line = (part: Part, points: number[], stroke: Colour, width: number): Item => ({
  kind: 'path',
  part,
  points: Float64Array.from(points),
  closed: false,
  stroke,
  width,
})

interface Face {
  way: Way
  sign: Sign
}

/** The faces that are turned away from the eye: those that lie behind all marks. */
export const farFaces = (camera: Camera): Face[] =>
  WAYS.flatMap((way) =>
    ([-1, 1] as const).flatMap((sign) =>
      isNear(camera, normal(way, sign)) || isEdgeOn(camera, way) ? [] : [{ way, sign }],
    ),
  )

/** A face that is seen from its edge alone is neither before nor behind the marks. */
const isEdgeOn = (camera: Camera, way: Way): boolean =>
  Math.abs(nearness(camera, normal(way, 1))) < 1e-6 && camera.perspective === 0

/** The wall that carries a shadow: the floor, or the far one of the two that stand. */
export function wallOf(camera: Camera, wall: 'floor' | 'side' | 'back'): { axis: Way; at: number } {
  if (wall === 'floor') return { axis: 'up', at: -HALF.up }
  const way = wall === 'side' ? 'across' : 'depth'
  const far = farFaces(camera).find((face) => face.way === way)
  return { axis: way, at: (far?.sign ?? (way === 'depth' ? 1 : -1)) * HALF[way] }
}

/** Walls and gridlines, which lie behind everything else. */
export function wallItems(
  camera: Camera,
  axes: Record<Way, { scale: Scale; ticks: Ticks }>,
  walls: 'grid' | 'plain' | 'none',
): Item[] {
  if (walls === 'none') return []
  const at = (place: Place): [number, number] => onPage(camera, place3(place))
  return farFaces(camera).flatMap(({ way, sign }): Item[] => {
    const [a, b] = OTHERS[way]
    const corner = (u: Sign, v: Sign): [number, number] =>
      at({ [way]: sign * HALF[way], [a]: u * HALF[a], [b]: v * HALF[b] } as Place)
    const outline = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)].flat()
    const grid = (along: Way, other: Way): Item[] =>
      axes[along].ticks.large.flatMap(({ value }) => {
        const place = axes[along].scale.toPage(value)
        if (!(Math.abs(place) <= HALF[along] + 1e-9)) return []
        const end = (s: Sign): [number, number] =>
          at({ [way]: sign * HALF[way], [along]: place, [other]: s * HALF[other] } as Place)
        return [line('space', [...end(-1), ...end(1)], GRID, 1)]
      })
    return [
      {
        kind: 'path',
        part: 'space',
        points: Float64Array.from(outline),
        closed: true,
        fill: WALL,
        stroke: EDGE,
        width: 0.8,
      },
      ...(walls === 'grid' ? [...grid(a, b), ...grid(b, a)] : []),
    ]
  })
}

interface Edge {
  from: Place
  to: Place
  middle: [number, number]
}

/**
 * The edge of the box on which an axis stands: one of its outline, so that nothing lies beyond it;
 * the lowest, or of those that stand the leftmost.
 */
function edgeOf(camera: Camera, way: Way): Edge {
  const [a, b] = OTHERS[way]
  const edges = ([-1, 1] as const).flatMap((u) =>
    ([-1, 1] as const).map((v) => {
      const end = (s: Sign): Place =>
        ({ [way]: s * HALF[way], [a]: u * HALF[a], [b]: v * HALF[b] }) as Place
      const middle = onPage(camera, place3({ ...end(1), [way]: 0 }))
      const isOutline = isNear(camera, normal(a, u)) !== isNear(camera, normal(b, v))
      return { from: end(-1), to: end(1), middle, isOutline }
    }),
  )
  const outline = edges.filter(({ isOutline }) => isOutline)
  const rank = ({ middle: [x, y] }: Edge): number => (way === 'up' ? x + y * 1e-3 : -y + x * 1e-3)
  return (outline.length ? outline : edges).reduce((best, edge) =>
    rank(edge) < rank(best) - 1e-6 ? edge : best,
  )
}

interface Label {
  tick: Tick
  item: TextItem
  box: Box
}

export interface DrawnBoxAxis {
  ticks: Ticks
  items: Item[]
  box: Box | null
}

/**
 * Draws an axis of the box, words upright beside it.
 *
 * @param taken boxes of words that stand already, to which its own are added
 */
export function drawBoxAxis(
  { way, part, axis, scale, isDate, title }: BoxAxis,
  camera: Camera,
  pens: Pens,
  page: { width: number; height: number },
  taken: Box[],
  measure: Measure,
): DrawnBoxAxis {
  const edge = edgeOf(camera, way)
  const onEdge = (along: number): [number, number] =>
    onPage(camera, place3({ ...edge.from, [way]: along }))
  const [x0, y0] = onEdge(-HALF[way])
  const [x1, y1] = onEdge(HALF[way])
  const length = Math.hypot(x1 - x0, y1 - y0)
  const style = styleOf(axis, isDate)
  const { gauge, tick: pen } = pens
  if (length < SHORTEST * gauge)
    return { ticks: ticksOf(style, scale.domain, 4), items: [], box: null }
  const out = outwards([x0, y0], [x1, y1], camera.middle, way)
  const reach = (axis.ticks === 'none' ? 0 : TICK) * gauge
  const label = (tick: Tick): Label => {
    const [x, y] = onEdge(scale.toPage(tick.value))
    const off = reach + GAP * gauge
    const runs = parseRuns(tick.label)
    return { tick, ...written(part, runs, [x + out[0] * off, y + out[1] * off], out, pen, measure) }
  }
  const { ticks, labels } = fitting(style, scale, length, pen.size, label, taken)
  const colour = fromHex(axis.colour)
  const items: Item[] = []
  if (axis.width > 0) {
    items.push(line(part, [x0, y0, x1, y1], colour, axis.width))
    const nib = (value: number, long: number): void => {
      const [x, y] = onEdge(scale.toPage(value))
      const from = axis.ticks === 'out' ? 0 : -long
      const to = axis.ticks === 'in' ? 0 : long
      if (axis.ticks !== 'none')
        items.push(
          line(
            part,
            [x + out[0] * from, y + out[1] * from, x + out[0] * to, y + out[1] * to],
            colour,
            axis.width,
          ),
        )
    }
    for (const { value } of inside(ticks.large, scale)) nib(value, TICK * gauge)
    for (const value of ticks.small)
      if (value >= scale.domain[0] && value <= scale.domain[1]) nib(value, 3 * gauge)
  }
  items.push(...labels.map(({ item }) => item))
  const boxes = labels.map(({ box }) => box)
  taken.push(...boxes)
  const clear = Math.max(0, ...boxes.map(({ width, height }) => beyond(width, height, out)))
  const lines = title ? wrap(title, MOST_TITLE * gauge, pens.title, measure) : []
  if (lines.length) {
    const start = reach + (GAP + TITLE_GAP) * gauge + clear
    // The title of an axis that stands is written over its end, where it is as wide as it likes.
    const over: [number, number] = y1 < y0 ? [x1, y1] : [x0, y0]
    const found =
      way === 'up'
        ? titleAt(lines, over, [0, -1], 8 * gauge, part, pens, { page, taken, measure })
        : titleAt(lines, [(x0 + x1) / 2, (y0 + y1) / 2], out, start, part, pens, {
            page,
            taken,
            measure,
          })
    items.push(...found.items)
    boxes.push(found.box)
    taken.push(found.box)
  }
  return { ticks, items, box: around(boxes, [x0, y0, x1, y1]) }
}

/** The direction away from the box, square to an edge of its outline. */
function outwards(
  [x0, y0]: [number, number],
  [x1, y1]: [number, number],
  [mx, my]: readonly [number, number],
  way: Way,
): [number, number] {
  const length = Math.hypot(x1 - x0, y1 - y0)
  const [dx, dy] = [(x1 - x0) / length, (y1 - y0) / length]
  const [ox, oy] = [(x0 + x1) / 2 - mx, (y0 + y1) / 2 - my]
  const side = ox * -dy + oy * dx
  if (Math.abs(side) < 1e-6) return way === 'up' ? [-1, 0] : [0, 1]
  return side > 0 ? [-dy, dx] : [dy, -dx]
}

const inside = (ticks: readonly Tick[], { domain: [low, high] }: Scale): Tick[] => {
  const slack = (high - low) * 1e-9
  return ticks.filter(({ value }) => value >= low - slack && value <= high + slack)
}

/** As many ticks as have room: labels meet neither each other nor words that stand already. */
function fitting(
  style: ReturnType<typeof styleOf>,
  scale: Scale,
  length: number,
  size: number,
  label: (tick: Tick) => Label,
  taken: readonly Box[],
): { ticks: Ticks; labels: Label[] } {
  const roomy = (box: Box): Box => ({
    x: box.x - size * APART,
    y: box.y,
    width: box.width + 2 * size * APART,
    height: box.height,
  })
  const fit = (count: number): { ticks: Ticks; labels: Label[]; crowded: boolean } => {
    const ticks = ticksOf(style, scale.domain, count)
    const all = inside(ticks.large, scale).map(label)
    const crowded = all.some((one, i) => i > 0 && meets(roomy(all[i - 1].box), one.box))
    // What meets other words is left out; its tick stays.
    const labels: Label[] = []
    for (const one of all)
      if (![...taken, ...labels.map(({ box }) => box)].some((box) => meets(roomy(box), one.box)))
        labels.push(one)
    return { ticks, labels, crowded }
  }
  const wanted = Math.max(2, Math.round(length / (size * 4.2)))
  for (let count = wanted; count >= 2; count--) {
    const found = fit(count)
    if (found.crowded && count > 2) continue
    // Too few say little of a scale: finer ones, as long as they stand apart.
    for (let finer = wanted + 1; finer <= 8 && found.labels.length < FEW; finer++) {
      const more = fit(finer)
      if (!more.crowded && more.labels.length > found.labels.length) return more
    }
    return found
  }
  return fit(2)
}

/** How far a box of words reaches in a direction, from where it is held. */
const beyond = (width: number, height: number, [ox, oy]: [number, number]): number =>
  Math.abs(ox) > 0.4
    ? Math.abs(ox) * width + (Math.abs(oy) * height) / 2
    : (Math.abs(ox) * width) / 2 + Math.abs(oy) * height

/** Words held at a place, on the side of it to which a direction leads. */
function written(
  part: Part,
  runs: Run[],
  [x, y]: [number, number],
  [ox, oy]: [number, number],
  pen: Pens['tick'],
  measure: Measure,
): { item: TextItem; box: Box } {
  const width = widthOf(runs, pen, measure)
  const anchor = ox > 0.4 ? 'start' : ox < -0.4 ? 'end' : 'middle'
  const left = anchor === 'start' ? x : anchor === 'end' ? x - width : x - width / 2
  const height = pen.size * 1.05
  const top =
    y - height / 2 + (anchor === 'middle' ? (Math.sign(oy) * height) / 2 : oy * height * 0.35)
  return {
    item: { kind: 'text', part, x, y: top + pen.size * 0.86, runs, ...pen, anchor, turn: 0 },
    box: { x: left, y: top, width, height },
  }
}

/** A title beyond its labels, further out where other words stand, and whole on the page. */
function titleAt(
  lines: Run[][],
  [mx, my]: [number, number],
  out: [number, number],
  start: number,
  part: Part,
  { title: pen }: Pens,
  {
    page,
    taken,
    measure,
  }: { page: { width: number; height: number }; taken: readonly Box[]; measure: Measure },
): { items: Item[]; box: Box } {
  const widest = Math.max(...lines.map((runs) => widthOf(runs, pen, measure)))
  const height = lines.length * pen.size * LINE
  const boxAt = (off: number): Box => {
    const [x, y] = [mx + out[0] * off, my + out[1] * off]
    const left = out[0] > 0.4 ? x : out[0] < -0.4 ? x - widest : x - widest / 2
    const top =
      Math.abs(out[0]) > 0.4 ? y - height / 2 + out[1] * height * 0.5 : out[1] > 0 ? y : y - height
    return {
      x: Math.max(3, Math.min(page.width - widest - 3, left)),
      y: Math.max(3, Math.min(page.height - height - 3, top)),
      width: widest,
      height,
    }
  }
  let box = boxAt(start)
  const clear = (): boolean => !taken.some((other) => meets(grown(other, pen.size * 0.3), box))
  for (let off = start; off < start + 90 && !clear(); off += 3) box = boxAt(off)
  return {
    items: lines.map((runs, i) => ({
      kind: 'text',
      part,
      x: box.x + widest / 2,
      y: box.y + pen.size * (0.92 + i * LINE),
      runs,
      ...pen,
      anchor: 'middle',
      turn: 0,
    })),
    box,
  }
}

function around(boxes: readonly Box[], points: readonly number[]): Box {
  const left = Math.min(...boxes.map(({ x }) => x), points[0], points[2])
  const right = Math.max(...boxes.map(({ x, width }) => x + width), points[0], points[2])
  const top = Math.min(...boxes.map(({ y }) => y), points[1], points[3])
  const bottom = Math.max(...boxes.map(({ y, height }) => y + height), points[1], points[3])
  return { x: left, y: top, width: right - left, height: bottom - top }
}
