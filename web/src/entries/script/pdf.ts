/** PDF without a browser: what writes it is large, and loaded when one is first asked for. */
import './without-a-browser'
import { marksPixels } from '@/render/paint/embedded'
import { toBase64 } from '@/lib/base64'
import { writePdf } from '@/render/files/pdf'
import { writePng } from '@/render/files/png'
import { EMBEDDED_SCALE } from '@/render/files/svg-file'
import type { fonts, laid } from './main'

/** What was laid out, as PDF: in base64, and the letters that no font has. */
export async function pdf(
  script: { laid: typeof laid; fonts: typeof fonts },
  title: string,
): Promise<string> {
  const { scene, alt } = script.laid()
  const { bytes, pictured } = await writePdf(scene, {
    title,
    alt,
    transparent: false,
    fonts: script.fonts(),
    embed: (item) => Promise.resolve(writePng(marksPixels(item, EMBEDDED_SCALE))),
    picture: null,
  })
  return JSON.stringify({ bytes: toBase64(bytes), pictured })
}
