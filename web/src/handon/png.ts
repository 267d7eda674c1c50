/** Writes a resolution and a description into a PNG file (ISO 15948, chunks pHYs and iTXt). */

const METRES_AN_INCH = 0.0254
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

/** Puts a chunk right behind the header. */
function withChunk(png: Uint8Array, type: string, data: Uint8Array): Uint8Array {
  const chunk = new Uint8Array(12 + data.length)
  const view = new DataView(chunk.buffer)
  view.setUint32(0, data.length)
  chunk.set(new TextEncoder().encode(type), 4)
  chunk.set(data, 8)
  view.setUint32(8 + data.length, crc32(chunk.subarray(4, 8 + data.length)))
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
