/** The files of the fonts for PDF, one for each weight: a variable font cannot be put into one. */
import sans400Latin from '@fontsource/source-sans-3/files/source-sans-3-latin-400-normal.woff?url'
import sans400More from '@fontsource/source-sans-3/files/source-sans-3-latin-ext-400-normal.woff?url'
import sans400Greek from '@fontsource/source-sans-3/files/source-sans-3-greek-400-normal.woff?url'
import sans600Latin from '@fontsource/source-sans-3/files/source-sans-3-latin-600-normal.woff?url'
import sans600More from '@fontsource/source-sans-3/files/source-sans-3-latin-ext-600-normal.woff?url'
import sans600Greek from '@fontsource/source-sans-3/files/source-sans-3-greek-600-normal.woff?url'
import serif400Latin from '@fontsource/source-serif-4/files/source-serif-4-latin-400-normal.woff?url'
import serif400More from '@fontsource/source-serif-4/files/source-serif-4-latin-ext-400-normal.woff?url'
import serif400Greek from '@fontsource/source-serif-4/files/source-serif-4-greek-400-normal.woff?url'
import serif600Latin from '@fontsource/source-serif-4/files/source-serif-4-latin-600-normal.woff?url'
import serif600More from '@fontsource/source-serif-4/files/source-serif-4-latin-ext-600-normal.woff?url'
import serif600Greek from '@fontsource/source-serif-4/files/source-serif-4-greek-600-normal.woff?url'
import mono400Latin from '@fontsource/source-code-pro/files/source-code-pro-latin-400-normal.woff?url'
import mono400More from '@fontsource/source-code-pro/files/source-code-pro-latin-ext-400-normal.woff?url'
import mono400Greek from '@fontsource/source-code-pro/files/source-code-pro-greek-400-normal.woff?url'
import mono600Latin from '@fontsource/source-code-pro/files/source-code-pro-latin-600-normal.woff?url'
import mono600More from '@fontsource/source-code-pro/files/source-code-pro-latin-ext-600-normal.woff?url'
import mono600Greek from '@fontsource/source-code-pro/files/source-code-pro-greek-600-normal.woff?url'
import type { Face, Weight } from '@/drawing/text'
import { inSubsets, type FontFile } from './fonts'

const FILES: Record<Face, Record<Weight, FontFile[]>> = {
  sans: {
    400: inSubsets(sans400Latin, sans400More, sans400Greek),
    600: inSubsets(sans600Latin, sans600More, sans600Greek),
  },
  serif: {
    400: inSubsets(serif400Latin, serif400More, serif400Greek),
    600: inSubsets(serif600Latin, serif600More, serif600Greek),
  },
  mono: {
    400: inSubsets(mono400Latin, mono400More, mono400Greek),
    600: inSubsets(mono600Latin, mono600More, mono600Greek),
  },
}

export const pdfFonts = (face: Face, weight: Weight): FontFile[] => FILES[face][weight]
