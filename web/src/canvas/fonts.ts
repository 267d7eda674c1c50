/** Fonts that a figure is written in, fetched before anything is measured with them. */
import type { FigureDocument } from '@/api/types'
import { FONTS, type Face } from '@/render/text/text'

/** The faces of a figure's words, each once. */
export function facesOf(document: FigureDocument | undefined): Face[] {
  const own = Object.values(document?.type.parts ?? {}).map(({ face }) => face)
  return [...new Set<Face>(['sans', ...own])].sort()
}

export async function loadFonts(faces: readonly Face[]): Promise<void> {
  await Promise.all(
    faces.flatMap((face) =>
      [400, 600].map((weight) => document.fonts.load(`${weight} 16px '${FONTS[face]}'`)),
    ),
  )
}
