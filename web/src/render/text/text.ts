/** Words on a figure: raised and lowered runs, measuring, wrapping. */

export type Face = 'sans' | 'serif' | 'mono'
export type Weight = 400 | 600

/** The font of each face. */
export const FONTS: Record<Face, string> = {
  sans: 'Source Sans 3 Variable',
  serif: 'Source Serif 4 Variable',
  mono: 'Source Code Pro Variable',
}
/** What stands in where a reader has not got the font. */
export const STACKS: Record<Face, string> = {
  sans: `'${FONTS.sans}', 'Source Sans 3', sans-serif`,
  serif: `'${FONTS.serif}', 'Source Serif 4', serif`,
  mono: `'${FONTS.mono}', 'Source Code Pro', monospace`,
}

/** What decides how wide words are. */
export interface Hand {
  size: number
  weight: Weight
  face: Face
}

/** A piece of text in one position: on the line, raised, or lowered. */
export interface Run {
  text: string
  place: 'line' | 'raised' | 'lowered'
}

/** Width of a text in points. */
export type Measure = (text: string, size: number, weight: Weight, face: Face) => number

/** Size of raised and lowered text, and how far it is shifted, as shares of the text's size. */
export const SMALL = 0.7
export const RAISE = 0.36
export const LOWER = 0.16

const GREEK = (
  'alpha beta gamma delta epsilon zeta eta theta iota kappa lambda mu ' +
  'nu xi omicron pi rho sigmaf sigma tau upsilon phi chi psi omega'
).split(' ')
const ALPHA = 'α'.charCodeAt(0)
const CAPITAL = 'Α'.charCodeAt(0)

/** Greek letters by their names, as the character references of HTML have them: `&mu;`, `&Delta;`. */
const greek = (text: string): string =>
  text.replace(/&([A-Za-z]+);/g, (whole, name: string) => {
    const place = GREEK.indexOf(name.toLowerCase())
    if (place < 0) return whole
    return String.fromCharCode((name === name.toLowerCase() ? ALPHA : CAPITAL) + place)
  })

/** Marks that mean something in typed words, and what stands for each where it means itself. */
const MARKS = ['^', '_', '&']
const ITSELF = ['\ue05e', '\ue05f', '\ue026']
// Controls, halves of characters and what is no character at all; a break of a line is a space.
// eslint-disable-next-line no-control-regex
const UNPRINTABLE = /[\u0000-\u0008\u000e-\u001f\u007f-\u009f\ufffe\uffff]|\p{Surrogate}/gu
const BREAKS = /[\t\v\f\r]/g

const MOST_LETTERS = 60

/** A long text without its middle, so that two that differ at their ends are told apart. */
export const withoutMiddle = (text: string): string =>
  text.length <= MOST_LETTERS
    ? text
    : `${text.slice(0, 32).trimEnd()} … ${text.slice(-24).trimStart()}`

/** Text without what has no sign and would break a file. */
export const printable = (text: string): string =>
  text.replace(BREAKS, ' ').replace(UNPRINTABLE, '')

/** Words that come from data, so that they can stand among typed words and are drawn as they are. */
export const literal = (text: string): string =>
  text.replace(/[\^_&]/g, (mark) => ITSELF[MARKS.indexOf(mark)])

/** Typed words with words from data among them, as plain text. */
export const asPlain = (text: string): string =>
  text.replace(/[\ue05e\ue05f\ue026]/g, (sign) => MARKS[ITSELF.indexOf(sign)])

const MARK = /[\^_](?:\{([^{}]*)\}|([A-Za-z0-9+−-]+))/g

/** Reads `m^2`, `10^{−5}` and `x_{1}` as raised and lowered runs, and `&mu;` as a letter. */
export function parseRuns(typed: string): Run[] {
  const shown = printable(typed)
  const text = shown.includes('&') ? greek(shown) : shown
  const runs: Run[] = []
  let end = 0
  for (const found of text.matchAll(MARK)) {
    if (found.index > end) runs.push({ text: text.slice(end, found.index), place: 'line' })
    runs.push({
      text: found[1] ?? found[2],
      place: found[0].startsWith('^') ? 'raised' : 'lowered',
    })
    end = found.index + found[0].length
  }
  if (end < text.length) runs.push({ text: text.slice(end), place: 'line' })
  return runs.map((run) => ({ ...run, text: asPlain(run.text) }))
}

export const sizeOf = (run: Run, size: number): number =>
  run.place === 'line' ? size : size * SMALL

/** How far a run's baseline lies below the line's. */
export const shiftOf = (run: Run, size: number): number =>
  run.place === 'raised' ? -size * RAISE : run.place === 'lowered' ? size * LOWER : 0

export const widthOf = (
  runs: readonly Run[],
  { size, weight, face }: Hand,
  measure: Measure,
): number => runs.reduce((sum, run) => sum + measure(run.text, sizeOf(run, size), weight, face), 0)

/** Breaks a text into lines no wider than `width`, between words; a longer word stands alone. */
export function wrap(text: string, width: number, hand: Hand, measure: Measure): Run[][] {
  const lines: Run[][] = []
  for (const paragraph of text.split('\n')) {
    let line = ''
    for (const word of paragraph.split(/ +/)) {
      const longer = line ? `${line} ${word}` : word
      if (line && widthOf(parseRuns(longer), hand, measure) > width) {
        lines.push(parseRuns(line))
        line = word
      } else {
        line = longer
      }
    }
    lines.push(parseRuns(line))
  }
  return lines
}

/** Breaks a text into as few lines as `wrap` does, as alike in length as words allow. */
export function wrapBalanced(text: string, width: number, hand: Hand, measure: Measure): Run[][] {
  const lines = wrap(text, width, hand, measure)
  if (lines.length < 2 || text.includes('\n')) return lines
  // The narrowest width that needs no more lines.
  let [least, most] = [width / lines.length / 2, width]
  while (most - least > 1) {
    const middle = (least + most) / 2
    const made = wrap(text, middle, hand, measure)
    const isWithin = made.every((runs) => widthOf(runs, hand, measure) <= middle)
    if (made.length <= lines.length && isWithin) most = middle
    else least = middle
  }
  return wrap(text, most, hand, measure)
}
