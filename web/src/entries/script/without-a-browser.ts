/** What every browser has and a bare engine has not, as far as the packages used here ask for it. */

import { fromBase64 } from '@/lib/base64'

/** Text as UTF-8 (RFC 3629). */
class Encoder {
  encode(text: string): Uint8Array {
    const out: number[] = []
    for (const letter of text) {
      const code = letter.codePointAt(0)!
      if (code < 0x80) out.push(code)
      else if (code < 0x800) out.push(0xc0 | (code >> 6), 0x80 | (code & 63))
      else if (code < 0x10000)
        out.push(0xe0 | (code >> 12), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63))
      else
        out.push(
          0xf0 | (code >> 18),
          0x80 | ((code >> 12) & 63),
          0x80 | ((code >> 6) & 63),
          0x80 | (code & 63),
        )
    }
    return Uint8Array.from(out)
  }
}

/** UTF-8 as text; UTF-16 and Latin-1 where a font says so. */
class Decoder {
  constructor(private readonly encoding = 'utf-8') {}

  decode(given?: ArrayBuffer | ArrayBufferView): string {
    if (!given) return ''
    const bytes = ArrayBuffer.isView(given)
      ? new Uint8Array(given.buffer, given.byteOffset, given.byteLength)
      : new Uint8Array(given)
    if (/^utf-?16/i.test(this.encoding)) return this.wide(bytes)
    if (!/^utf-?8/i.test(this.encoding))
      return Array.from(bytes, (byte) => String.fromCharCode(byte)).join('')
    const pieces: string[] = []
    for (let i = 0; i < bytes.length;) {
      const first = bytes[i++]
      const more = first < 0x80 ? 0 : first < 0xe0 ? 1 : first < 0xf0 ? 2 : 3
      let code = more === 0 ? first : first & (0x3f >> more)
      for (let k = 0; k < more; k++) code = (code << 6) | (bytes[i++] & 63)
      pieces.push(String.fromCodePoint(code))
    }
    return pieces.join('')
  }

  private wide(bytes: Uint8Array): string {
    const [high, low] = /be$/i.test(this.encoding) ? [0, 1] : [1, 0]
    let text = ''
    for (let i = 0; i + 1 < bytes.length; i += 2)
      text += String.fromCharCode((bytes[i + high] << 8) | bytes[i + low])
    return text
  }
}

const given = globalThis as Record<string, unknown>
given.TextEncoder ??= Encoder
given.TextDecoder ??= Decoder
given.structuredClone ??= <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
given.queueMicrotask ??= (then: () => void) => void Promise.resolve().then(then)
given.setTimeout ??= (then: () => void) => void Promise.resolve().then(then)
given.atob ??= (text: string) =>
  Array.from(fromBase64(text), (byte) => String.fromCharCode(byte)).join('')
// No address is ever followed here; some are put together.
given.URL ??= class {
  constructor(readonly href: string) {}
}
given.window ??= globalThis
given.self ??= globalThis
given.process ??= {
  env: {},
  nextTick: (then: (...of: unknown[]) => void, ...of: unknown[]) =>
    void Promise.resolve().then(() => then(...of)),
}
