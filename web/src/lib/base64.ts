/** Bytes as text (RFC 4648), where neither a browser nor anything else helps. */

const LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'
const PLACES = Uint8Array.from({ length: 128 }, (_, code) =>
  Math.max(0, LETTERS.indexOf(String.fromCharCode(code))),
)
/** So many letters are put together at once. */
const PIECE = 8192

export function toBase64(bytes: Uint8Array): string {
  const codes = new Uint8Array(4 * Math.ceil(bytes.length / 3))
  for (let i = 0, at = 0; i < bytes.length; i += 3, at += 4) {
    const three = (bytes[i] << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0)
    for (let k = 0; k < 4; k++) codes[at + k] = LETTERS.charCodeAt((three >> (18 - 6 * k)) & 63)
  }
  const missing = (3 - (bytes.length % 3)) % 3
  codes.fill('='.charCodeAt(0), codes.length - missing)
  const pieces: string[] = []
  for (let i = 0; i < codes.length; i += PIECE)
    pieces.push(String.fromCharCode(...codes.subarray(i, i + PIECE)))
  return pieces.join('')
}

export function fromBase64(text: string): Uint8Array {
  const end = text.endsWith('==') ? 2 : text.endsWith('=') ? 1 : 0
  const bytes = new Uint8Array((text.length / 4) * 3 - end)
  for (let i = 0, at = 0; i < text.length; i += 4) {
    let four = 0
    for (let k = 0; k < 4; k++) four = (four << 6) | PLACES[text.charCodeAt(i + k)]
    for (let k = 0; k < 3; k++) if (at < bytes.length) bytes[at++] = (four >> (16 - 8 * k)) & 255
  }
  return bytes
}
