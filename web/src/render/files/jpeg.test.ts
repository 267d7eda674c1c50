import { describe, expect, it } from 'vitest'
import { withJpegResolution } from './jpeg'

const HEAD = [0xff, 0xd8, 0xff, 0xe0, 0, 16, 0x4a, 0x46, 0x49, 0x46, 0, 1, 1, 0, 0, 1, 0, 1, 0, 0]

describe('the resolution of a JPEG', () => {
  it('is written in dots per inch', () => {
    const out = withJpegResolution(Uint8Array.from(HEAD), 300)
    expect([...out.slice(13, 18)]).toEqual([1, 1, 44, 1, 44])
    expect([...out.slice(0, 13)]).toEqual(HEAD.slice(0, 13))
    expect(out).toHaveLength(HEAD.length)
  })

  it('leaves other files as they are', () => {
    const other = Uint8Array.of(1, 2, 3)
    expect(withJpegResolution(other, 300)).toBe(other)
  })
})
