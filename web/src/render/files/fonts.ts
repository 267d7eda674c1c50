/** The files of the fonts, in subsets by script; a later one replaces an earlier one in its range only. */
import type { Face, Weight } from '@/render/text/text'

export interface FontFile {
  name: string
  range: string
  /** Text that needs it. */
  needed: RegExp
}

/** The scripts that the fonts have, each with its letters, in the order in which they count. */
const SUBSETS: { name: string; range: string; needed: RegExp }[] = [
  { name: 'latin', range: '', needed: /./ },
  {
    name: 'latin-ext',
    range: 'U+100-2FF,U+2070-20CF,U+2C60-2C7F',
    needed: /[\u0100-\u02ff\u2070-\u20cf\u2c60-\u2c7f]/,
  },
  { name: 'greek', range: 'U+370-3FF', needed: /[\u0370-\u03ff]/ },
  { name: 'greek-ext', range: 'U+1F00-1FFF', needed: /[\u1f00-\u1fff]/ },
  {
    name: 'cyrillic',
    range: 'U+400-45F,U+490-491,U+4B0-4B1,U+2116',
    needed: /[\u0400-\u045f\u0490\u0491\u04b0\u04b1\u2116]/,
  },
  {
    name: 'cyrillic-ext',
    range: 'U+460-48F,U+492-4AF,U+4B2-52F',
    needed: /[\u0460-\u048f\u0492-\u04af\u04b2-\u052f]/,
  },
  {
    name: 'vietnamese',
    range: 'U+102-103,U+110-111,U+128-129,U+168-169,U+1A0-1A1,U+1AF-1B0,U+1EA0-1EF9,U+20AB',
    needed:
      /[\u0102\u0103\u0110\u0111\u0128\u0129\u0168\u0169\u01a0\u01a1\u01af\u01b0\u1ea0-\u1ef9\u20ab]/,
  },
]

const FAMILIES: Record<Face, string> = {
  sans: 'source-sans-3',
  serif: 'source-serif-4',
  mono: 'source-code-pro',
}

/** The parts of every font, for the screen and SVG, and for PDF. */
export class FontFiles {
  /** @param names the files that there are */
  constructor(private readonly names: readonly string[]) {}

  /** For the screen and for SVG: one file for all weights. */
  variable(face: Face): FontFile[] {
    return this.of(face, 'wght-normal.woff2')
  }

  /** For PDF: one file for each weight, as a variable font cannot be put into one. */
  plain(face: Face, weight: Weight): FontFile[] {
    return this.of(face, `${weight}-normal.woff`)
  }

  private of(face: Face, ending: string): FontFile[] {
    return SUBSETS.flatMap(({ name: subset, range, needed }) => {
      const name = `${FAMILIES[face]}-${subset}-${ending}`
      return this.names.includes(name)
        ? [{ name, range: range && `unicode-range:${range};`, needed }]
        : []
    })
  }
}

/** Where fonts come from: which files there are, and how one is read. */
export interface FontSource {
  files: FontFiles
  read: (name: string) => Promise<Uint8Array>
}
