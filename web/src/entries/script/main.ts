/**
 * Figures without a browser: a document and its answer in, a picture out. The server runs this in an
 * engine of its own, for scripts and for whoever asks for an image.
 */
import './without-a-browser'
import { readMarks } from '@/api/marks'
import type { Answer, FigureDocument, PlateDocument, VariableSummary } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { Scene } from '@/render/scene'
import { measure } from '@/render/text/measure'
import { altOf } from '@/kinds/alt-text'
import { fromBase64 } from '@/lib/base64'
import { FontFiles, type FontSource } from '@/render/files/fonts'
import { fontsIn, plainFontsIn } from '@/render/files/used-fonts'
import { vectorsOf } from '@/render/files/svg-file'
import { showAt, VENUES } from '@/figure-model/venues'
import { sceneOf } from '@/kinds/renderers'
import { layoutPlate } from '@/plates/layout'
import { lookOf, putOn } from '@/figure-model/looks'

interface Panel {
  document: FigureDocument
  answer: Answer
  /** An Arrow stream, as base64. */
  marks: string
  /** Every variable of its table. */
  variables: VariableSummary[]
  /** Its place among the figures of its study, from 1. */
  number: number | null
  heading: string
}

interface Asked {
  panels: Panel[]
  /** The page on which they stand; the first panel alone where null. */
  plate: PlateDocument | null
}

interface Wanted {
  /** How many pixels a point has, of an image into which the vectors are made; null for a file. */
  scale: number | null
  withFonts: boolean
}

const held = new Map<string, Uint8Array>()
let names: string[] = []

/** Which files of fonts there are. */
export function useFonts(given: string): string {
  names = JSON.parse(given) as string[]
  return 'known'
}

/** Keeps the files of fonts, each as base64. */
export function keepFonts(given: string): string {
  for (const [name, data] of Object.entries(JSON.parse(given) as Record<string, string>))
    held.set(name, fromBase64(data))
  return 'kept'
}

/** The fonts that are kept here. */
export const fonts = (): FontSource => ({
  files: new FontFiles(names),
  read: (name) => {
    const found = held.get(name)
    return found ? Promise.resolve(found) : Promise.reject(new Error(`needs font ${name}`))
  },
})

let scene: Scene | null = null
let alt = ''

function figureOf({ document, answer, marks, number }: Panel): RenderedFigure {
  const bytes = fromBase64(marks)
  return {
    document,
    answer,
    marks: readMarks(bytes.buffer as ArrayBuffer),
    ...(number === null ? {} : { number }),
  }
}

function saidOf({ variables }: Panel, figure: RenderedFigure): string {
  return altOf(figure, (_table, name) => variables.find((one) => one.name === name) ?? null)
}

/** Lays a figure or a plate out, and says how large it is and which fonts its words need. */
export function lay(given: string): string {
  const { panels, plate } = JSON.parse(given) as Asked
  const figures = panels.map(figureOf)
  scene = plate
    ? layoutPlate(
        plate,
        panels.map(({ heading }, i) => ({ figure: figures[i], heading, problem: '' })),
        measure,
      ).scene
    : sceneOf(figures[0], measure)
  alt = plate?.caption ?? panels.map((panel, i) => saidOf(panel, figures[i])).join(' ')
  const { width, height } = scene
  const files = new FontFiles(names)
  const fonts = fontsIn(scene, files).map(({ file }) => file.name)
  const plainFonts = plainFontsIn(scene, files).map(({ file }) => file.name)
  return JSON.stringify({ width, height, alt, fonts, plainFonts })
}

export function laid(): { scene: Scene; alt: string } {
  if (!scene) throw new Error('nothing is laid out')
  return { scene, alt }
}

/** What was laid out, as SVG. */
export function svg(given: string): Promise<string> {
  const { scale, withFonts } = JSON.parse(given) as Wanted
  return vectorsOf(laid().scene, {
    title: alt,
    fonts: withFonts ? fonts() : null,
    ...(scale === null ? {} : { scale }),
  })
}

/** A document as a venue sets it. */
export function atVenue(given: string): string {
  const { document, venue } = JSON.parse(given) as { document: FigureDocument; venue: string }
  const found = VENUES.find((one) => one.venue === venue)
  if (!found) return JSON.stringify({ venues: VENUES.map((one) => one.venue) })
  showAt(document, found)
  return JSON.stringify({ document })
}

/** A document with the look of another. */
export function dressed(given: string): string {
  const { document, look } = JSON.parse(given) as {
    document: FigureDocument
    look: Parameters<typeof putOn>[1]
  }
  putOn(document, look)
  return JSON.stringify(document)
}

/** How wide words are, in points. */
export const widthOf = (given: string): string =>
  String(measure(...(JSON.parse(given) as Parameters<typeof measure>)))

/** How a document looks. */
export const lookIn = (given: string): string =>
  JSON.stringify(lookOf(JSON.parse(given) as FigureDocument))
