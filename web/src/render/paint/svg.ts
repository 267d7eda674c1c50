/** Writes a scene as SVG: vectors and real text; very many marks as one image inside. */
import { toHex } from '@/render/colours'
import type {
  Box,
  Item,
  MarkLook,
  MarksItem,
  PathItem,
  Scene,
  SegmentsItem,
  TextItem,
} from '@/render/scene'
import { CONTOURS, type Contour } from '@/render/marks/shapes'
import { boxOf, isPicture } from './embedded'
import { HOLLOW_STROKE } from './stamps'
import { printable, shiftOf, sizeOf, STACKS } from '@/render/text/text'

/** Above so many marks they are embedded as an image. */
export const MOST_VECTOR_MARKS = 20_000

export interface SvgOptions {
  /** What the picture shows, for people who cannot see it. */
  title: string
  /** CSS that brings the fonts along; empty to name them only. */
  fontFaces: string
  /** Turns marks into an image, as a data URL. */
  embed: (item: MarksItem) => string
  /** Pixels of such an image for each point. */
  scale: number
  /** Whether marks are too many for vectors; told by how many the scene has where left out. */
  asImages?: boolean
}

/** Whether a scene has more marks in all, in whatever cells, than a file of vectors should hold. */
export const hasTooManyMarks = (scene: Scene): boolean =>
  scene.items.reduce((sum, item) => sum + (item.kind === 'marks' ? item.x.length : 0), 0) >
  MOST_VECTOR_MARKS

const number = (value: number): string => String(Number(value.toFixed(2)))

/** Pixels stand where they stand. */
const fine = (value: number): string => String(Number(value.toFixed(6)))

const escape = (text: string): string =>
  printable(text).replace(
    /[&<>"]/g,
    (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!,
  )

export function writeSvg(scene: Scene, given: SvgOptions): string {
  const options = { asImages: hasTooManyMarks(scene), ...given }
  const clips = new Map<string, string>()
  const clipFor = (box: Box | undefined): string => {
    if (!box) return ''
    const key = [box.x, box.y, box.width, box.height].map(number).join(' ')
    if (!clips.has(key)) clips.set(key, `clip${clips.size + 1}`)
    return ` clip-path="url(#${clips.get(key)})"`
  }
  const body: string[] = []
  for (const [i, item] of scene.items.entries())
    body.push(itemText(item, `look${i}`, clipFor, options))
  const clipPaths = [...clips].map(([key, id]) => {
    const [x, y, width, height] = key.split(' ')
    return `<clipPath id="${id}"><rect x="${x}" y="${y}" width="${width}" height="${height}"/></clipPath>`
  })
  const style = options.fontFaces ? `<style>${options.fontFaces}</style>` : ''
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    `<svg xmlns="http://www.w3.org/2000/svg" width="${number(scene.width)}pt" height="${number(scene.height)}pt" viewBox="0 0 ${number(scene.width)} ${number(scene.height)}" role="img" font-family="${escape(STACKS.sans)}">`,
    `<title>${escape(options.title)}</title>`,
    `<defs>${style}${clipPaths.join('')}</defs>`,
    `<rect width="100%" height="100%" fill="${toHex(scene.paper)}"/>`,
    ...body,
    '</svg>',
    '',
  ].join('\n')
}

function itemText(
  item: Item,
  id: string,
  clipFor: (box: Box | undefined) => string,
  options: SvgOptions,
): string {
  if (item.kind === 'path') return pathText(item, clipFor)
  if (item.kind === 'text') return textText(item)
  const clip = clipFor(item.clip)
  if (item.kind === 'segments') return segmentsText(item, clip)
  if (isPicture(item) || options.asImages) {
    const { x, y, width, height } = boxOf(item, options.scale)
    return `<image x="${fine(x)}" y="${fine(y)}" width="${fine(width)}" height="${fine(height)}" preserveAspectRatio="none" href="${options.embed(item)}"/>`
  }
  return `<g${clip}>${marksText(item, id)}</g>`
}

function pathText(item: PathItem, clipFor: (box: Box | undefined) => string): string {
  const fill = item.fill
    ? ` fill="${toHex(item.fill)}" fill-opacity="${number(item.fillOpacity ?? 1)}"`
    : ' fill="none"'
  const through = item.strokeOpacity ?? 1
  const stroke = item.stroke
    ? ` stroke="${toHex(item.stroke)}"${through < 1 ? ` stroke-opacity="${number(through)}"` : ''} stroke-width="${number(item.width ?? 1)}" stroke-linejoin="round"`
    : ''
  const dash = item.dash?.length ? ` stroke-dasharray="${item.dash.map(number).join(' ')}"` : ''
  const clip = isInside(item) ? '' : clipFor(item.clip)
  return `<path d="${corners(item.points, item.closed)}"${fill}${stroke}${dash}${clip}/>`
}

/** Whether all of a path lies within its clip, which then need not be written. */
function isInside({ points, clip, width = 0, stroke }: PathItem): boolean {
  if (!clip) return true
  const reach = stroke ? width / 2 : 0
  for (let i = 0; i < points.length; i += 2) {
    const [x, y] = [points[i] - clip.x, points[i + 1] - clip.y]
    if (x < reach || y < reach || x > clip.width - reach || y > clip.height - reach) return false
  }
  return true
}

function segmentsText({ points, stroke, opacity, width }: SegmentsItem, clip: string): string {
  const parts: string[] = []
  for (let i = 0; i < points.length; i += 4)
    parts.push(
      `M${number(points[i])} ${number(points[i + 1])}L${number(points[i + 2])} ${number(points[i + 3])}`,
    )
  return `<path d="${parts.join('')}" fill="none" stroke="${toHex(stroke)}" stroke-opacity="${number(opacity)}" stroke-width="${number(width)}"${clip}/>`
}

function corners(points: ArrayLike<number>, closed: boolean): string {
  const parts: string[] = []
  for (let i = 0; i < points.length; i += 2)
    parts.push(`${i ? 'L' : 'M'}${number(points[i])} ${number(points[i + 1])}`)
  return parts.join('') + (closed ? 'Z' : '')
}

function textText(item: TextItem): string {
  const turn = item.turn
    ? ` transform="rotate(${item.turn} ${number(item.x)} ${number(item.y)})"`
    : ''
  const anchor = item.anchor === 'start' ? '' : ` text-anchor="${item.anchor}"`
  const face = item.face === 'sans' ? '' : ` font-family="${escape(STACKS[item.face])}"`
  let line = 0
  const spans = item.runs.map((run) => {
    const shift = shiftOf(run, item.size)
    const dy = shift - line
    line = shift
    if (run.place === 'line' && dy === 0) return escape(run.text)
    return `<tspan dy="${number(dy)}" font-size="${number(sizeOf(run, item.size))}">${escape(run.text)}</tspan>`
  })
  return `<text x="${number(item.x)}" y="${number(item.y)}" font-size="${number(item.size)}" font-weight="${item.weight}"${face} fill="${toHex(item.colour)}"${anchor}${turn} xml:space="preserve">${spans.join('')}</text>`
}

/** Each look once, then marks in their order, so that what lies on top on the screen does here. */
function marksText(item: MarksItem, id: string): string {
  const used = new Set(item.look)
  const looks = item.looks.map((look, i) =>
    used.has(i) ? `<g id="${id}-${i}">${lookText(look, toHex(item.paper))}</g>` : '',
  )
  const out = [`<defs>${looks.join('')}</defs>`]
  for (let i = 0; i < item.x.length; i++)
    out.push(
      `<use href="#${id}-${item.look[i]}" x="${number(item.x[i])}" y="${number(item.y[i])}"/>`,
    )
  return out.join('\n')
}

function lookText(look: MarkLook, paper: string): string {
  const fill = toHex(look.colour)
  const opacity = look.opacity < 1 ? ` opacity="${number(look.opacity)}"` : ''
  // The stroke is centred on the outline: a hairline outside, or the outline of a hollow mark.
  const paint = look.hollow
    ? ` fill="${paper}" stroke="${fill}" stroke-width="${number(HOLLOW_STROKE)}"`
    : ` fill="${fill}"` +
      (look.halo
        ? ` stroke="${look.edge ? toHex(look.edge) : paper}" stroke-width="${number(look.halo * 2)}" paint-order="stroke"`
        : '')
  if (look.shape === 'disc') {
    const radius = look.size / 2 - (look.hollow ? HOLLOW_STROKE / 2 : 0)
    return `<circle r="${number(radius)}"${paint}${opacity}/>`
  }
  const d = CONTOURS[look.shape].map((c) => corners(sized(c, look.size), true)).join('')
  return `<path d="${d}" fill-rule="evenodd"${paint}${opacity}/>`
}

const sized = (contour: Contour, size: number): number[] => contour.map((v) => v * size)
