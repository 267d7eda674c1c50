/** Writes a resolution into a JPEG file (JFIF 1.02, segment APP0). */

/** Start of image, and the marker of the segment that comes first. */
const JFIF = [0xff, 0xd8, 0xff, 0xe0]
const UNITS = 13
const DOTS_AN_INCH = 1

/** The same file with its resolution; unchanged where it does not begin as JFIF does. */
export function withJpegResolution(jpeg: Uint8Array, dpi: number): Uint8Array {
  if (JFIF.some((byte, i) => jpeg[i] !== byte)) return jpeg
  const out = jpeg.slice()
  const view = new DataView(out.buffer)
  view.setUint8(UNITS, DOTS_AN_INCH)
  view.setUint16(UNITS + 1, Math.round(dpi))
  view.setUint16(UNITS + 3, Math.round(dpi))
  return out
}
