/** A scene as SVG, in a browser or without one. */
import { marksPixels } from '@/render/paint/embedded'
import { writeSvg } from '@/render/paint/svg'
import type { MarksItem, Scene } from '@/render/scene'
import { FONTS } from '@/render/text/text'
import { toBase64 } from '@/lib/base64'
import type { FontSource } from './fonts'
import { fontsIn } from './used-fonts'
import { writePng } from './png'

/** Embedded marks are drawn three times as fine as the screen's. */
export const EMBEDDED_SCALE = 3

export interface VectorOptions {
  title: string
  /** The fonts that go along; where null, they are named only. */
  fonts: FontSource | null
  /** Pixels of a point, where it is to be made into an image: marks are then embedded as pixels. */
  scale?: number
}

export async function vectorsOf(scene: Scene, options: VectorOptions): Promise<string> {
  const { title, fonts, scale = EMBEDDED_SCALE } = options
  const isPassing = options.scale !== undefined
  return writeSvg(scene, {
    title,
    scale,
    ...(isPassing ? { asImages: true } : {}),
    fontFaces: fonts ? await fontFaces(scene, fonts) : '',
    embed: (item: MarksItem) =>
      `data:image/png;base64,${toBase64(writePng(marksPixels(item, scale), isPassing ? 1 : 6))}`,
  })
}

/** The parts of the fonts that the scene's words need, as CSS. */
async function fontFaces(scene: Scene, { files, read }: FontSource): Promise<string> {
  const faces = fontsIn(scene, files).map(async ({ face, file }) => {
    const data = `data:font/woff2;base64,${toBase64(await read(file.name))}`
    return `@font-face{font-family:'${FONTS[face]}';font-weight:200 900;${file.range}src:url(${data}) format('woff2')}`
  })
  return (await Promise.all(faces)).join('')
}
