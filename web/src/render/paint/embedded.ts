/** Marks as pixels, to be laid on a picture that is painted or written otherwise. */
import type { Box, MarksItem } from '@/render/scene'
import { overBars } from './bars'
import { shading } from './density'
import { atOnce, rasterising, type Pixels } from './rasterise'

/** Whether marks are an image in files of vectors, however few of them a scene has. */
export const isPicture = ({ density, bars }: MarksItem): boolean => density || Boolean(bars?.length)

/** The pixels that marks within a clip are drawn on. */
export function areaOf(clip: Box, scale: number) {
  const left = Math.floor(clip.x * scale)
  const top = Math.floor(clip.y * scale)
  return {
    left,
    top,
    width: Math.max(1, Math.ceil((clip.x + clip.width) * scale) - left),
    height: Math.max(1, Math.ceil((clip.y + clip.height) * scale) - top),
  }
}

/** The marks of an item with transparent ground, as large as the item's clip in whole pixels. */
export function marksPixels(item: MarksItem, scale: number): Pixels {
  const { left, top, width, height } = areaOf(item.clip, scale)
  const draw = atOnce(overBars(item.density ? shading : rasterising))
  return draw(item, width, height, scale, left / scale, top / scale)
}

/** Where these pixels lie on the page. */
export function boxOf(item: MarksItem, scale: number): Box {
  const { left, top, width, height } = areaOf(item.clip, scale)
  return { x: left / scale, y: top / scale, width: width / scale, height: height / scale }
}
