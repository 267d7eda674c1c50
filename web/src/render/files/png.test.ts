import { describe, expect, it } from 'vitest'
import { crc32, withDescription, withResolution } from './png'

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

  it('stands beside what the picture shows, in the words of people who cannot see it', () => {
    const out = withDescription(new Uint8Array(60), 'Yield, m²')
    const view = new DataView(out.buffer)
    const length = view.getUint32(33)
    expect(new TextDecoder().decode(out.subarray(37, 41))).toBe('iTXt')
    const data = new TextDecoder().decode(out.subarray(41, 41 + length))
    expect(data).toBe('Description\0\0\0en\0\0Yield, m²')
    expect(view.getUint32(41 + length)).toBe(crc32(out.subarray(37, 41 + length)))
  })
})
