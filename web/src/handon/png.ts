/** Writes a resolution into a PNG file (ISO 15948, chunk pHYs). */

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

export function withResolution(png: Uint8Array, dpi: number): Uint8Array {
  const chunk = new Uint8Array(21)
  const view = new DataView(chunk.buffer)
  const perMetre = Math.round(dpi / METRES_AN_INCH)
  view.setUint32(0, 9)
  chunk.set([0x70, 0x48, 0x59, 0x73], 4)
  view.setUint32(8, perMetre)
  view.setUint32(12, perMetre)
  chunk[16] = 1
  view.setUint32(17, crc32(chunk.subarray(4, 17)))
  const out = new Uint8Array(png.length + chunk.length)
  out.set(png.subarray(0, AFTER_HEADER))
  out.set(chunk, AFTER_HEADER)
  out.set(png.subarray(AFTER_HEADER), AFTER_HEADER + chunk.length)
  return out
}
