/** Which files of the fonts the words of a scene need. */
import type { Scene } from '@/render/scene'
import type { Face, Weight } from '@/render/text/text'
import type { FontFile, FontFiles } from './fonts'

/** The words of a scene in each hand, put together, in the order in which hands come. */
function wordsIn(scene: Scene): { face: Face; weight: Weight; text: string }[] {
  const words = new Map<string, { face: Face; weight: Weight; text: string }>()
  for (const item of scene.items) {
    if (item.kind !== 'text') continue
    const { face, weight } = item
    const held = words.get(`${face}-${weight}`) ?? { face, weight, text: '' }
    held.text += item.runs.map((run) => run.text).join('')
    words.set(`${face}-${weight}`, held)
  }
  return [...words.values()]
}

/** For SVG: one file for all weights of a face. */
export function fontsIn(scene: Scene, files: FontFiles): { face: Face; file: FontFile }[] {
  const words = wordsIn(scene)
  const faces = [...new Set(words.map(({ face }) => face))]
  return faces.flatMap((face) => {
    const text = words.map((one) => (one.face === face ? one.text : '')).join('')
    return files.variable(face).flatMap((file) => (file.needed.test(text) ? [{ face, file }] : []))
  })
}

/** For PDF: one file for each weight; the usual one always, and of each the part for Latin letters. */
export function plainFontsIn(
  scene: Scene,
  files: FontFiles,
): { face: Face; weight: Weight; part: number; file: FontFile }[] {
  const words = wordsIn(scene)
  const isUsual = ({ face, weight }: { face: Face; weight: Weight }): boolean =>
    face === 'sans' && weight === 400
  const usual = words.find(isUsual) ?? { face: 'sans' as const, weight: 400 as const, text: '' }
  return [usual, ...words.filter((one) => !isUsual(one))].flatMap(({ face, weight, text }) =>
    files
      .plain(face, weight)
      .flatMap((file, part) =>
        part === 0 || file.needed.test(text) ? [{ face, weight, part, file }] : [],
      ),
  )
}
