/** Paints a scene on a canvas, for the screen and for images. */
import { marksPixels } from './embedded'
import type { Pixels } from './rasterise'
import type {
  Box,
  Colour,
  Item,
  MarksItem,
  PathItem,
  Scene,
  SegmentsItem,
  TextItem,
} from '@/render/scene'
import { shiftOf, sizeOf, STACKS } from '@/render/text/text'

/** Paints the marks of an item on a context that is in pixels. */
export type MarksPainter = (item: MarksItem, context: Context, scale: number) => void

export type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D

const css = ([r, g, b]: Colour, opacity = 1): string => `rgba(${r},${g},${b},${opacity})`

/**
 * Paints the whole scene.
 *
 * @param scale pixels per point
 * @param transparent leaves the ground out
 * @param marks paints the marks, in pixels
 */
export function paintScene(
  scene: Scene,
  context: Context,
  scale: number,
  transparent = false,
  marks: MarksPainter = paintMarks,
): void {
  context.setTransform(scale, 0, 0, scale, 0, 0)
  context.fillStyle = css(scene.paper)
  if (!transparent) context.fillRect(0, 0, scene.width, scene.height)
  for (const item of scene.items) paintItem(item, context, scale, marks)
  context.setTransform(1, 0, 0, 1, 0, 0)
}

function paintItem(item: Item, context: Context, scale: number, marks: MarksPainter): void {
  if (item.kind === 'path') paintPath(item, context)
  else if (item.kind === 'text') paintText(item, context)
  else if (item.kind === 'segments') paintSegments(item, context)
  else {
    context.save()
    // Pictures of marks are laid on pixel by pixel.
    context.setTransform(1, 0, 0, 1, 0, 0)
    if (item.look.length) marks(item, context, scale)
    context.restore()
  }
}

export function clipTo(context: Context, { x, y, width, height }: Box): void {
  context.beginPath()
  context.rect(x, y, width, height)
  context.clip()
}

function paintPath(item: PathItem, context: Context): void {
  context.save()
  if (item.clip) clipTo(context, item.clip)
  context.beginPath()
  const { points } = item
  for (let i = 0; i < points.length; i += 2) context.lineTo(points[i], points[i + 1])
  if (item.closed) context.closePath()
  if (item.fill) {
    context.fillStyle = css(item.fill, item.fillOpacity)
    context.fill()
  }
  if (item.stroke) {
    context.strokeStyle = css(item.stroke, item.strokeOpacity)
    context.lineWidth = item.width ?? 1
    context.lineJoin = 'round'
    context.setLineDash([...(item.dash ?? [])])
    context.stroke()
  }
  context.restore()
}

function paintSegments({ points, stroke, opacity, width, clip }: SegmentsItem, context: Context) {
  context.save()
  if (clip) clipTo(context, clip)
  context.beginPath()
  for (let i = 0; i < points.length; i += 4) {
    context.moveTo(points[i], points[i + 1])
    context.lineTo(points[i + 2], points[i + 3])
  }
  context.strokeStyle = css(stroke, opacity)
  context.lineWidth = width
  context.setLineDash([])
  context.stroke()
  context.restore()
}

function paintText(item: TextItem, context: Context): void {
  context.save()
  context.translate(item.x, item.y)
  context.rotate((item.turn * Math.PI) / 180)
  context.fillStyle = css(item.colour)
  context.textAlign = 'left'
  context.textBaseline = 'alphabetic'
  const set = (size: number) => (context.font = `${item.weight} ${size}px ${STACKS[item.face]}`)
  const widths = item.runs.map((run) => {
    set(sizeOf(run, item.size))
    return context.measureText(run.text).width
  })
  const total = widths.reduce((sum, width) => sum + width, 0)
  let x = item.anchor === 'start' ? 0 : item.anchor === 'middle' ? -total / 2 : -total
  item.runs.forEach((run, i) => {
    set(sizeOf(run, item.size))
    context.fillText(run.text, x, shiftOf(run, item.size))
    x += widths[i]
  })
  context.restore()
}

/** Where on the page, in pixels, the image of an item's marks has its upper left corner. */
export const cornerOf = ({ clip }: MarksItem, scale: number): [number, number] => [
  Math.floor(clip.x * scale),
  Math.floor(clip.y * scale),
]

export function imageOf({ width, height, data }: Pixels): OffscreenCanvas {
  const canvas = new OffscreenCanvas(width, height)
  const bytes = new Uint8ClampedArray(data.buffer as ArrayBuffer)
  canvas.getContext('2d')!.putImageData(new ImageData(bytes, width, height), 0, 0)
  return canvas
}

/** The marks of an item as an image with transparent ground, as large as the item's clip. */
export const marksImage = (item: MarksItem, scale: number): OffscreenCanvas =>
  imageOf(marksPixels(item, scale))

export const paintMarks: MarksPainter = (item, context, scale) =>
  context.drawImage(marksImage(item, scale), ...cornerOf(item, scale))
