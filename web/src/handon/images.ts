/** Images of a figure: the same scene as the screen's, at another scale or as vectors. */
import { marksImage, paintScene } from '@/drawing/paint/canvas'
import { writeSvg } from '@/drawing/paint/svg'
import type { Scene } from '@/drawing/scene'
import { canvasMeasure, FONTS, type Face } from '@/drawing/text/text'
import { FILES } from './fonts'
import { withJpegResolution } from './jpeg'
import type { WrittenPdf } from './pdf'
import { withDescription, withResolution } from './png'

const POINTS_AN_INCH = 72
/** Embedded marks are drawn three times as fine as the screen's. */
const EMBEDDED_SCALE = 3
const WORDS_SCALE = 4

export interface ImageOptions {
  dpi: number
  type: 'image/png' | 'image/jpeg'
  /** Without a ground; JPEG always has one. */
  transparent: boolean
  /** What it shows, written into a PNG for people who cannot see it. */
  alt: string
}

/** A scene as an image, with its resolution written into the file. */
export async function imageOf(
  scene: Scene,
  { dpi, type, transparent, alt }: ImageOptions,
): Promise<Blob> {
  const scale = dpi / POINTS_AN_INCH
  const canvas = new OffscreenCanvas(
    Math.round(scene.width * scale),
    Math.round(scene.height * scale),
  )
  const isPng = type === 'image/png'
  paintScene(scene, canvas.getContext('2d')!, scale, transparent && isPng)
  const blob = await canvas.convertToBlob({ type, quality: 0.92 })
  const plain = new Uint8Array(await blob.arrayBuffer())
  const bytes = isPng
    ? withDescription(withResolution(plain, dpi), alt)
    : withJpegResolution(plain, dpi)
  return new Blob([bytes as BlobPart], { type })
}

/** @param fonts whether the fonts go along, or are named only */
export async function svgOf(scene: Scene, title: string, fonts: boolean): Promise<Blob> {
  const text = await writeSvg(scene, {
    title,
    fontFaces: fonts ? await fontFaces(scene) : '',
    embed: async (item) => {
      const blob = await marksImage(item, EMBEDDED_SCALE).convertToBlob({ type: 'image/png' })
      return dataUrl(blob)
    },
  })
  return new Blob([text], { type: 'image/svg+xml' })
}

/** A scene as PDF. What writes it is large, and fetched when it is first needed. */
export async function pdfOf(
  scene: Scene,
  { title, alt, transparent }: { title: string; alt: string; transparent: boolean },
): Promise<WrittenPdf> {
  const { writePdf } = await import('./pdf')
  return writePdf(scene, {
    title,
    alt,
    transparent,
    measure: canvasMeasure(),
    embed: async (item) => {
      const image = marksImage(item, EMBEDDED_SCALE)
      return (await image.convertToBlob({ type: 'image/png' })).arrayBuffer()
    },
    picture: async (items) => {
      const canvas = new OffscreenCanvas(
        Math.round(scene.width * WORDS_SCALE),
        Math.round(scene.height * WORDS_SCALE),
      )
      const words = { ...scene, items, regions: [] }
      paintScene(words, canvas.getContext('2d')!, WORDS_SCALE, true)
      return (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer()
    },
  })
}

/** The parts of the fonts that the scene's words need, as CSS. */
async function fontFaces(scene: Scene): Promise<string> {
  const words = new Map<Face, string>()
  for (const item of scene.items)
    if (item.kind === 'text')
      words.set(item.face, (words.get(item.face) ?? '') + item.runs.map((run) => run.text).join(''))
  const faces = [...words].flatMap(([face, text]) =>
    FILES[face]
      .filter(({ needed }) => needed.test(text))
      .map(async ({ url, range }) => {
        const font = await (await fetch(url)).blob()
        const data = await dataUrl(new Blob([font], { type: 'font/woff2' }))
        return `@font-face{font-family:'${FONTS[face]}';font-weight:200 900;${range}src:url(${data}) format('woff2')}`
      }),
  )
  return (await Promise.all(faces)).join('')
}

function dataUrl(blob: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader()
    reader.onload = () => resolve(reader.result as string)
    reader.onerror = () => reject(reader.error ?? new Error('unreadable'))
    reader.readAsDataURL(blob)
  })
}

/** Hands a file to the browser, which puts it where downloads go. */
export function save(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 60_000)
}
