/** The files of the fonts, in subsets by script; a later one replaces an earlier one in its range only. */
import type { Face, Weight } from '@/drawing/text/text'

export interface FontFile {
  url: string
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

type Urls = Record<string, string>

const VARIABLE: Urls = import.meta.glob(
  ['/node_modules/@fontsource-variable/source-*/files/source-*-wght-normal.woff2'],
  { eager: true, query: '?url', import: 'default' },
)

const PLAIN: Urls = import.meta.glob(
  ['/node_modules/@fontsource/source-*/files/source-*-{400,600}-normal.woff'],
  { eager: true, query: '?url', import: 'default' },
)

const FAMILIES: Record<Face, string> = {
  sans: 'source-sans-3',
  serif: 'source-serif-4',
  mono: 'source-code-pro',
}

/** The subsets of a font that there are. */
const filesOf = (urls: Urls, family: string, ending: string): FontFile[] =>
  SUBSETS.flatMap(({ name, range, needed }) => {
    const found = Object.keys(urls).find((path) => path.endsWith(`/${family}-${name}-${ending}`))
    return found ? [{ url: urls[found], range: range && `unicode-range:${range};`, needed }] : []
  })

const fromFaces = <T>(make: (family: string) => T): Record<Face, T> => ({
  sans: make(FAMILIES.sans),
  serif: make(FAMILIES.serif),
  mono: make(FAMILIES.mono),
})

/** For the screen and for SVG: one file for all weights. */
export const FILES = fromFaces((family) => filesOf(VARIABLE, family, 'wght-normal.woff2'))

const PLAIN_FILES = fromFaces((family) => ({
  400: filesOf(PLAIN, family, '400-normal.woff'),
  600: filesOf(PLAIN, family, '600-normal.woff'),
}))

/** For PDF: one file for each weight, as a variable font cannot be put into one. */
export const pdfFonts = (face: Face, weight: Weight): FontFile[] => PLAIN_FILES[face][weight]
