/** The files of the fonts, in subsets; a later one replaces an earlier one in its range only. */
import sansGreek from '@fontsource-variable/source-sans-3/files/source-sans-3-greek-wght-normal.woff2?url'
import sansLatin from '@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2?url'
import sansLatinMore from '@fontsource-variable/source-sans-3/files/source-sans-3-latin-ext-wght-normal.woff2?url'
import serifGreek from '@fontsource-variable/source-serif-4/files/source-serif-4-greek-wght-normal.woff2?url'
import serifLatin from '@fontsource-variable/source-serif-4/files/source-serif-4-latin-wght-normal.woff2?url'
import serifLatinMore from '@fontsource-variable/source-serif-4/files/source-serif-4-latin-ext-wght-normal.woff2?url'
import monoGreek from '@fontsource-variable/source-code-pro/files/source-code-pro-greek-wght-normal.woff2?url'
import monoLatin from '@fontsource-variable/source-code-pro/files/source-code-pro-latin-wght-normal.woff2?url'
import monoLatinMore from '@fontsource-variable/source-code-pro/files/source-code-pro-latin-ext-wght-normal.woff2?url'
import type { Face } from '@/drawing/text'

export interface FontFile {
  url: string
  range: string
  /** Text that needs it. */
  needed: RegExp
}

export const inSubsets = (latin: string, latinMore: string, greek: string): FontFile[] => [
  { url: latin, range: '', needed: /./ },
  {
    url: latinMore,
    range: 'unicode-range:U+100-2FF,U+2070-20CF,U+2C60-2C7F;',
    needed: /[\u0100-\u02ff\u2070-\u20cf\u2c60-\u2c7f]/,
  },
  { url: greek, range: 'unicode-range:U+370-3FF;', needed: /[\u0370-\u03ff]/ },
]

export const FILES: Record<Face, FontFile[]> = {
  sans: inSubsets(sansLatin, sansLatinMore, sansGreek),
  serif: inSubsets(serifLatin, serifLatinMore, serifGreek),
  mono: inSubsets(monoLatin, monoLatinMore, monoGreek),
}
