import { describe, expect, it } from 'vitest'
import { crc32, withResolution } from './png'

describe('resolution in a PNG', () => {
  it('checks chunks as the standard says', () => {
    // The check value of CRC-32 for the digits 1 to 9.
    expect(crc32(new TextEncoder().encode('123456789'))).toBe(0xcbf43926)
  })

  it('stands right behind the header and takes nothing away', () => {
    const png = Uint8Array.from({ length: 60 }, (_, i) => i)
    const out = withResolution(png, 300)
    const view = new DataView(out.buffer)
    expect(new TextDecoder().decode(out.subarray(37, 41))).toBe('pHYs')
    expect(view.getUint32(41)).toBe(11811)
    expect([...out.subarray(0, 33), ...out.subarray(54)]).toEqual([...png])
  })
})
