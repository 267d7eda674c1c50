import { describe, expect, it } from 'vitest'
import { rasterise } from './rasterise'
import type { Colour, MarkLook, MarksItem } from '@/render/scene'

const PAPER: Colour = [255, 255, 255]
const look = (change: Partial<MarkLook> = {}): MarkLook => ({
  shape: 'disc',
  size: 10,
  colour: [0, 106, 100],
  opacity: 1,
  hollow: false,
  halo: 0,
  edge: null,
  ...change,
})

function item(places: [number, number, number?][], looks: MarkLook[]): MarksItem {
  return {
    kind: 'marks',
    part: 'marks',
    x: Float32Array.from(places, ([x]) => x),
    y: Float32Array.from(places, ([, y]) => y),
    look: Uint16Array.from(places, ([, , kind]) => kind ?? 0),
    looks,
    paper: PAPER,
    clip: { x: 0, y: 0, width: 40, height: 40 },
    density: false,
  }
}

const pixel = (data: Uint32Array, x: number, y: number) => {
  const v = data[y * 40 + x]
  return [v & 255, (v >>> 8) & 255, (v >>> 16) & 255, v >>> 24]
}

const draw = (places: [number, number, number?][], ...looks: MarkLook[]) =>
  rasterise(item(places, looks), 40, 40, 1).data

describe('rasterising marks', () => {
  it('puts a mark where it belongs, with its colour, and nothing elsewhere', () => {
    const data = draw([[20, 12]], look())
    expect(pixel(data, 20, 12)).toEqual([0, 106, 100, 255])
    expect(pixel(data, 12, 20)).toEqual([0, 0, 0, 0])
    const ink = data.reduce((sum, v) => sum + (v >>> 24) / 255, 0)
    expect(ink).toBeCloseTo(Math.PI * 25, 0)
  })

  it('keeps the ink of a mark at every sub-pixel place', () => {
    for (const shift of [0, 0.1, 0.37, 0.5, 0.93]) {
      const data = draw([[20 + shift, 20 - shift]], look({ size: 6 }))
      const ink = data.reduce((sum, v) => sum + (v >>> 24) / 255, 0)
      expect(Math.abs(ink - Math.PI * 9)).toBeLessThan(0.5)
    }
  })

  it('lets what is below show through by the opacity', () => {
    const rust: Colour = [175, 45, 24]
    const data = draw(
      [
        [20, 20, 0],
        [20, 20, 1],
      ],
      look(),
      look({ colour: rust, opacity: 0.25 }),
    )
    const [red, green, blue, alpha] = pixel(data, 20, 20)
    expect(alpha).toBe(255)
    expect(Math.abs(red - 0.25 * 175)).toBeLessThanOrEqual(1)
    expect(Math.abs(green - (0.75 * 106 + 0.25 * 45))).toBeLessThanOrEqual(1)
    expect(Math.abs(blue - (0.75 * 100 + 0.25 * 24))).toBeLessThanOrEqual(1)
  })

  it('never runs over, however many marks lie on one place', () => {
    const places = Array.from({ length: 3000 }, (): [number, number] => [20, 20])
    for (const opacity of [0.03, 0.3, 0.5, 0.77, 1]) {
      const data = draw(places, look({ colour: [255, 255, 255], opacity }))
      const [red, green, blue, alpha] = pixel(data, 20, 20)
      expect(Math.min(red, green, blue)).toBeGreaterThan(245)
      expect(alpha).toBeGreaterThan(235)
    }
  })

  it('draws later marks over earlier ones, parted by thin white edge', () => {
    const data = draw(
      [
        [15, 20, 0],
        [21, 20, 1],
      ],
      look(),
      look({ colour: [175, 45, 24], halo: 1.5 }),
    )
    expect(pixel(data, 18, 20)[0]).toBe(175)
    const [red, green, blue] = pixel(data, 15, 20)
    expect(Math.min(red, green, blue)).toBeGreaterThan(200)
  })

  it('leaves the inside of a hollow mark to the paper', () => {
    const data = draw([[20, 20]], look({ hollow: true }))
    expect(pixel(data, 20, 20)).toEqual([255, 255, 255, 255])
    expect(pixel(data, 15, 20)[0]).toBeLessThan(120)
  })

  it('cuts marks at the edge without wrapping to the other side', () => {
    const data = draw(
      [
        [0, 20],
        [39.9, 5],
      ],
      look(),
    )
    expect(pixel(data, 0, 20)[3]).toBe(255)
    expect(pixel(data, 39, 5)[3]).toBe(255)
    expect(pixel(data, 39, 20)[3]).toBe(0)
    expect(pixel(data, 0, 5)[3]).toBe(0)
    expect(pixel(data, 0, 6)[3]).toBe(0)
  })
})
