/** Selected rows of a matrix, as small squares that are written straight into an image. */
import type { MarksItem } from '@/render/scene'

export type Squares = (marks: MarksItem, chosen: Uint32Array) => void

/** Writes squares at the places of chosen marks. */
export function brushing(ink: Uint32Array, width: number, height: number, pixels: number): Squares {
  const seen = new Uint8Array(width * height)
  const half = Math.max(1, Math.round(1.6 * pixels))
  return ({ x: across, y: down }, chosen) => {
    for (const i of chosen) {
      const px = Math.round(across[i] * pixels)
      const py = Math.round(down[i] * pixels)
      // Where thousands share a pixel, one of them is enough.
      if (px < 0 || px >= width || py < 0 || py >= height || seen[py * width + px]) continue
      seen[py * width + px] = 1
      const [left, right] = [Math.max(0, px - half), Math.min(width - 1, px + half)]
      for (let y = Math.max(0, py - half); y <= Math.min(height - 1, py + half); y++)
        // Yarrow, opaque: red 175, green 131, blue 11, as bytes from the lowest.
        for (let p = y * width + left; p <= y * width + right; p++) ink[p] = 0xff0b83af
    }
  }
}
