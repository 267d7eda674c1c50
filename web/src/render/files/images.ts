/** Images of a figure: the same scene as the screen's, at another scale or as vectors. */
import { paintScene } from '@/render/paint/canvas'
import { marksPixels } from '@/render/paint/embedded'
import type { Scene } from '@/render/scene'
import { PAGE_FONTS } from './font-urls'
import { withJpegResolution } from './jpeg'
import { withDescription, withResolution, writePng } from './png'
import { EMBEDDED_SCALE, vectorsOf } from './svg-file'

const POINTS_AN_INCH = 72
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
  const text = await vectorsOf(scene, { title, fonts: fonts ? PAGE_FONTS : null })
  return new Blob([text], { type: 'image/svg+xml' })
}

/** A scene as PDF. What writes it is large, and fetched when it is first needed. */
export async function pdfOf(
  scene: Scene,
  { title, alt, transparent }: { title: string; alt: string; transparent: boolean },
): Promise<{ blob: Blob; pictured: string }> {
  const { writePdf } = await import('./pdf')
  const { bytes, pictured } = await writePdf(scene, {
    title,
    alt,
    transparent,
    fonts: PAGE_FONTS,
    embed: async (item) => writePng(marksPixels(item, EMBEDDED_SCALE)),
    picture: async (items) => {
      const canvas = new OffscreenCanvas(
        Math.round(scene.width * WORDS_SCALE),
        Math.round(scene.height * WORDS_SCALE),
      )
      const words = { ...scene, items, regions: [] }
      paintScene(words, canvas.getContext('2d')!, WORDS_SCALE, true)
      const drawn = await canvas.convertToBlob({ type: 'image/png' })
      return new Uint8Array(await drawn.arrayBuffer())
    },
  })
  return { blob: new Blob([bytes as BlobPart], { type: 'application/pdf' }), pictured }
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
