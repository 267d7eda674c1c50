/** Writes a scene as PDF: vectors and text with its fonts inside, on a page of the exact size. */
import PDFDocument from 'pdfkit'
import { toHex } from '@/render/colours'
import { isPicture } from '@/render/paint/embedded'
import { hasTooManyMarks } from '@/render/paint/svg'
import type {
  Box,
  Item,
  MarkLook,
  MarksItem,
  PathItem,
  Scene,
  SegmentsItem,
  TextItem,
} from '@/render/scene'
import { CONTOURS } from '@/render/marks/shapes'
import { HOLLOW_STROKE } from '@/render/paint/stamps'
import { shiftOf, sizeOf, type Face, type Weight } from '@/render/text/text'
import type { FontSource } from './fonts'
import { plainFontsIn } from './used-fonts'
import { measure } from '@/render/text/measure'

export interface PdfOptions {
  title: string
  /** What it shows, for people who cannot see it. */
  alt: string
  fonts: FontSource
  /** Turns marks into an image, where they are too many for vectors. */
  embed: (item: MarksItem) => Promise<Uint8Array>
  /** Turns words into an image of the whole page, where the fonts have no letters for them; null
   *  where nothing can, and they are left out. */
  picture: ((items: TextItem[]) => Promise<Uint8Array>) | null
  transparent: boolean
}

/** What was written, and the letters that stand in it as a picture. */
export interface WrittenPdf {
  bytes: Uint8Array
  pictured: string
}

type Pdf = PDFKit.PDFDocument

/** The name under which a part of a font is known while a file is written. */
const nameOf = (face: Face, weight: Weight, part: number): string => `${face}-${weight}-${part}`

export async function writePdf(scene: Scene, options: PdfOptions): Promise<WrittenPdf> {
  const fonts = await fontsOf(scene, options.fonts)
  const pdf = new PDFDocument({
    size: [scene.width, scene.height],
    margin: 0,
    font: fonts[0].data as unknown as string,
    lang: 'en',
    displayTitle: true,
    pdfVersion: '1.7',
    info: {
      Title: options.title,
      Subject: options.alt,
      Creator: 'Yarrowdew',
      Producer: 'Yarrowdew',
    },
  })
  for (const { name, data } of fonts) pdf.registerFont(name, data as unknown as ArrayBuffer)
  const done = bytesOf(pdf)
  if (!options.transparent) pdf.rect(0, 0, scene.width, scene.height).fill(toHex(scene.paper))
  const pen = new Pen(pdf, options, fonts, hasTooManyMarks(scene))
  for (const item of scene.items) await pen.draw(item)
  if (pen.strange.length && options.picture) {
    const { width, height } = scene
    pdf.image(buffered(await options.picture(pen.strange)), 0, 0, { width, height })
  }
  pdf.end()
  return { bytes: await done, pictured: [...pen.unknown].join('') }
}

/** As the types want it; any bytes will do. */
const buffered = (bytes: Uint8Array): ArrayBuffer => bytes as unknown as ArrayBuffer

/** What is written, once it is ended. */
function bytesOf(pdf: Pdf): Promise<Uint8Array> {
  const pieces: Uint8Array[] = []
  return new Promise((resolve, reject) => {
    pdf.on('data', (piece: Uint8Array) => pieces.push(piece))
    pdf.on('error', reject)
    pdf.on('end', () => {
      const out = new Uint8Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
      let at = 0
      for (const piece of pieces) {
        out.set(piece, at)
        at += piece.length
      }
      resolve(out)
    })
  })
}

interface Font {
  name: string
  data: Uint8Array
}

/** The parts of the fonts that the scene's words need. */
async function fontsOf(scene: Scene, { files, read }: FontSource): Promise<Font[]> {
  const wanted = plainFontsIn(scene, files).map(async ({ face, weight, part, file }) => ({
    name: nameOf(face, weight, part),
    data: await read(file.name),
  }))
  return Promise.all(wanted)
}

/** Spaces of their own width, which fonts seldom have: room is left, and nothing is written. */
const GAPS = /([\u2000-\u200a\u202f]+)/

interface Letters {
  hasGlyphForCodePoint: (point: number) => boolean
}

/** Draws items one after the other. */
class Pen {
  private readonly known: Set<string>
  /** Words with letters that the fonts do not have. */
  readonly strange: TextItem[] = []
  readonly unknown = new Set<string>()

  constructor(
    private readonly pdf: Pdf,
    private readonly options: PdfOptions,
    fonts: Font[],
    private readonly asImages: boolean,
  ) {
    this.known = new Set(fonts.map(({ name }) => name))
  }

  async draw(item: Item): Promise<void> {
    this.pdf.save()
    if (item.kind === 'text') this.text(item)
    else if (item.kind === 'path') this.path(item)
    else if (item.kind === 'segments') this.segments(item)
    else if (isPicture(item) || this.asImages) {
      if (item.x.length) {
        const { x, y, width, height } = item.clip
        this.pdf.image(buffered(await this.options.embed(item)), x, y, { width, height })
      }
    } else this.marks(item)
    this.pdf.restore()
  }

  private clip(box: Box | undefined): void {
    if (box) this.pdf.rect(box.x, box.y, box.width, box.height).clip()
  }

  private corners(points: ArrayLike<number>, closed: boolean): void {
    for (let i = 0; i < points.length; i += 2)
      if (i) this.pdf.lineTo(points[i], points[i + 1])
      else this.pdf.moveTo(points[i], points[i + 1])
    if (closed) this.pdf.closePath()
  }

  private path(item: PathItem): void {
    const { points, closed, fill, fillOpacity, stroke, width, dash, clip } = item
    if (!points.length) return
    const { pdf } = this
    this.clip(clip)
    if (fill) {
      this.corners(points, closed)
      pdf.fillOpacity(fillOpacity ?? 1).fill(toHex(fill))
    }
    if (stroke) {
      this.corners(points, closed)
      pdf.lineWidth(width ?? 1).lineJoin('round')
      if (dash?.length) pdf.dash(dash[0], { space: dash[1] ?? dash[0] })
      pdf.strokeOpacity(item.strokeOpacity ?? 1).stroke(toHex(stroke))
    }
  }

  private segments({ points, stroke, opacity, width, clip }: SegmentsItem): void {
    if (!points.length) return
    this.clip(clip)
    for (let i = 0; i < points.length; i += 4)
      this.pdf.moveTo(points[i], points[i + 1]).lineTo(points[i + 2], points[i + 3])
    this.pdf.lineWidth(width).strokeOpacity(opacity).stroke(toHex(stroke))
  }

  /** The letters of a text that its font does not have. */
  private missing(item: TextItem): string[] {
    return item.runs.flatMap((run) =>
      this.parts(run.text, item.face, item.weight).flatMap(({ font, text }) => {
        this.pdf.font(font)
        const { font: own } = (this.pdf as unknown as { _font: { font: Letters } })._font
        return [...text].filter(
          (letter) => !GAPS.test(letter) && !own.hasGlyphForCodePoint(letter.codePointAt(0)!),
        )
      }),
    )
  }

  private text(item: TextItem): void {
    const { pdf } = this
    const missing = this.missing(item)
    if (missing.length) {
      // A word with empty boxes in it would be wrong in silence.
      this.strange.push(item)
      for (const letter of missing) this.unknown.add(letter)
      return
    }
    pdf.translate(item.x, item.y).rotate(item.turn).fillColor(toHex(item.colour))
    const widths = item.runs.map((run) =>
      measure(run.text, sizeOf(run, item.size), item.weight, item.face),
    )
    const total = widths.reduce((sum, width) => sum + width, 0)
    let x = item.anchor === 'start' ? 0 : item.anchor === 'middle' ? -total / 2 : -total
    item.runs.forEach((run, i) => {
      const size = sizeOf(run, item.size)
      let at = x
      for (const { font, text } of this.parts(run.text, item.face, item.weight)) {
        pdf.font(font, size)
        for (const piece of text.split(GAPS)) {
          if (!piece) continue
          if (GAPS.test(piece)) {
            at += measure(piece, size, item.weight, item.face)
            continue
          }
          pdf.text(piece, at, shiftOf(run, item.size), { lineBreak: false, baseline: 'alphabetic' })
          at += pdf.widthOfString(piece)
        }
      }
      x += widths[i]
    })
  }

  /** A text in the pieces that one part of its font has letters for. */
  private parts(text: string, face: Face, weight: Weight): { font: string; text: string }[] {
    const pieces: { font: string; text: string }[] = []
    for (const letter of text) {
      const part = this.options.fonts.files
        .plain(face, weight)
        .findIndex(
          ({ needed }, i) =>
            i > 0 && needed.test(letter) && this.known.has(nameOf(face, weight, i)),
        )
      const font = nameOf(face, weight, Math.max(0, part))
      const last = pieces.at(-1)
      if (last?.font === font) last.text += letter
      else pieces.push({ font, text: letter })
    }
    return pieces
  }

  private marks(item: MarksItem): void {
    this.clip(item.clip)
    const paper = toHex(item.paper)
    for (let i = 0; i < item.x.length; i++)
      this.mark(item.looks[item.look[i]], item.x[i], item.y[i], paper)
  }

  private mark(look: MarkLook, x: number, y: number, paper: string): void {
    const { pdf } = this
    const colour = toHex(look.colour)
    pdf.opacity(look.opacity)
    if (look.hollow) {
      this.outline(look, x, y)
      pdf.lineWidth(HOLLOW_STROKE).fillAndStroke(paper, colour, 'even-odd')
      return
    }
    if (look.halo) {
      this.outline(look, x, y)
      pdf.lineWidth(look.halo * 2).stroke(look.edge ? toHex(look.edge) : paper)
    }
    this.outline(look, x, y)
    pdf.fill(colour, 'even-odd')
  }

  private outline({ shape, size, hollow }: MarkLook, x: number, y: number): void {
    if (shape === 'disc') {
      this.pdf.circle(x, y, size / 2 - (hollow ? HOLLOW_STROKE / 2 : 0))
      return
    }
    for (const contour of CONTOURS[shape])
      this.corners(
        contour.map((v, i) => v * size + (i % 2 ? y : x)),
        true,
      )
  }
}
