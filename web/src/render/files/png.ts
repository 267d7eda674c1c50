/** PNG files (ISO 15948): pixels, a resolution (chunk pHYs) and a description (iTXt). */
import { zlibSync } from 'fflate'
import type { Pixels } from '@/render/paint/rasterise'

const METRES_AN_INCH = 0.0254
const SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]
/** Eight bits for each of red, green, blue and opacity. */
const FORM = [8, 6, 0, 0, 0]
/** How hard a file that stays is compressed. */
const LEVEL: PngLevel = 6

/** Eight bytes of signature and the header chunk, which always comes first. */
const AFTER_HEADER = 8 + 25

const TABLE = Uint32Array.from({ length: 256 }, (_, n) => {
  let c = n
  for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
  return c >>> 0
})

export function crc32(bytes: Uint8Array): number {
  let c = 0xffffffff
  for (const byte of bytes) c = TABLE[(c ^ byte) & 255] ^ (c >>> 8)
  return (c ^ 0xffffffff) >>> 0
}

type PngLevel = 1 | 6

function chunkOf(type: string, data: Uint8Array): Uint8Array {
  const chunk = new Uint8Array(12 + data.length)
  const view = new DataView(chunk.buffer)
  view.setUint32(0, data.length)
  for (let i = 0; i < 4; i++) chunk[4 + i] = type.charCodeAt(i)
  chunk.set(data, 8)
  view.setUint32(8 + data.length, crc32(chunk.subarray(4, 8 + data.length)))
  return chunk
}

/** Pixels as a PNG file, the same wherever it is written: browsers compress each in its own way. */
export function writePng({ width, height, data }: Pixels, level: PngLevel = LEVEL): Uint8Array {
  const bytes = new Uint8Array(data.buffer, data.byteOffset, data.byteLength)
  const line = 4 * width
  // Each line begins with the filter that it went through: none.
  const lines = new Uint8Array((line + 1) * height)
  for (let y = 0; y < height; y++)
    lines.set(bytes.subarray(y * line, (y + 1) * line), y * (line + 1) + 1)
  const header = new Uint8Array(13)
  const view = new DataView(header.buffer)
  view.setUint32(0, width)
  view.setUint32(4, height)
  header.set(FORM, 8)
  const parts = [
    Uint8Array.from(SIGNATURE),
    chunkOf('IHDR', header),
    chunkOf('IDAT', zlibSync(lines, { level })),
    chunkOf('IEND', new Uint8Array(0)),
  ]
  const out = new Uint8Array(parts.reduce((sum, part) => sum + part.length, 0))
  let at = 0
  for (const part of parts) {
    out.set(part, at)
    at += part.length
  }
  return out
}

/** Puts a chunk right behind the header. */
function withChunk(png: Uint8Array, type: string, data: Uint8Array): Uint8Array {
  const chunk = chunkOf(type, data)
  const out = new Uint8Array(png.length + chunk.length)
  out.set(png.subarray(0, AFTER_HEADER))
  out.set(chunk, AFTER_HEADER)
  out.set(png.subarray(AFTER_HEADER), AFTER_HEADER + chunk.length)
  return out
}

export function withResolution(png: Uint8Array, dpi: number): Uint8Array {
  const data = new Uint8Array(9)
  const view = new DataView(data.buffer)
  const perMetre = Math.round(dpi / METRES_AN_INCH)
  view.setUint32(0, perMetre)
  view.setUint32(4, perMetre)
  data[8] = 1
  return withChunk(png, 'pHYs', data)
}

/** Says what the picture shows, as plain international text. */
export function withDescription(png: Uint8Array, text: string): Uint8Array {
  const encoder = new TextEncoder()
  // Keyword, then: not compressed, no method, language, no translated keyword.
  const head = encoder.encode('Description\0\0\0en\0\0')
  const words = encoder.encode(text.replaceAll('\0', ''))
  const data = new Uint8Array(head.length + words.length)
  data.set(head)
  data.set(words, head.length)
  return withChunk(png, 'iTXt', data)
}
