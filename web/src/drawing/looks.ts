/** How each mark of a figure looks: its colour, shape, opacity, and whether it is set aside. */
import type { Answer, ColourAnswer, FigureDocument, Marks } from '@/api/types'
import { CATEGORIES, dew, fromHex, INK, MISSING, RAMP_STEPS, stepsOf } from './colours'
import { opacityFor } from './crowding'
import type { Colour, MarkLook } from './scene'
import type { Shape } from './shapes'

/** Code of a mark that has no value of the colour variable. */
const NO_CATEGORY = 65_535
/** Above so many marks the hairline between them no longer shows. */
const MOST_WITH_HALO = 20_000
const HALO = 0.55
const ASIDE_OPACITY = 0.5

/** Beyond eight categories colours repeat with another shape. */
const SHAPES_IN_TURN: readonly Shape[] = ['disc', 'square', 'triangle', 'diamond', 'plus', 'star']

export const RAMP = stepsOf(dew)

/** The colour of a category: its own, or that of its turn in the study. */
export const categoryColour = (turn: number, own: string | null): Colour =>
  own ? fromHex(own) : CATEGORIES[turn % CATEGORIES.length]

/** The colour of a category of an answer, by its code. */
export const colourOfCode = (colour: ColourAnswer, code: number): Colour =>
  categoryColour(colour.turns[code], colour.colours[code])

const categoryShape = (turn: number, chosen: Shape): Shape =>
  turn < CATEGORIES.length
    ? chosen
    : SHAPES_IN_TURN[Math.floor(turn / CATEGORIES.length) % SHAPES_IN_TURN.length]

export interface Looks {
  looks: MarkLook[]
  /** For each mark its place in `looks`. */
  of: Uint16Array
  /** The look of a category in the legend; of a mark without a value; of one set aside. */
  category: (code: number) => MarkLook
  missing: MarkLook
  aside: MarkLook
}

export function looksOf(
  document: FigureDocument,
  answer: Answer,
  marks: Marks,
  plotArea: number,
): Looks {
  const { shape, size } = document.marks
  const count = marks.row.length
  const opacity = document.marks.opacity ?? opacityFor(count, size, plotArea)
  const halo = count > MOST_WITH_HALO ? 0 : HALO
  const filled = (colour: Colour, turn = 0): MarkLook => ({
    shape: categoryShape(turn, shape),
    size,
    colour,
    opacity,
    hollow: false,
    halo,
  })
  const hollow = (colour: Colour, turn = 0): MarkLook => ({
    ...filled(colour, turn),
    opacity: ASIDE_OPACITY,
    hollow: true,
    halo: 0,
  })
  const missing = { ...hollow(MISSING), opacity: 0.9 }
  const colour = answer.colour
  const plain: MarkLook[] =
    colour === null
      ? [filled(CATEGORIES[0])]
      : colour.scale === 'amount'
        ? RAMP.map((step) => filled(step))
        : colour.categories.map((_, code) => filled(colourOfCode(colour, code), colour.turns[code]))
  const aside =
    colour?.scale === 'category'
      ? colour.categories.map((_, code) => hollow(colourOfCode(colour, code), colour.turns[code]))
      : [hollow(colour === null ? CATEGORIES[0] : INK)]
  const looks = [...plain, missing, ...aside]
  const placeOf = placing(answer, marks, plain.length)
  const of = new Uint16Array(count)
  for (let i = 0; i < count; i++) {
    const place = placeOf(i)
    of[i] = marks.aside[i]
      ? plain.length + 1 + (aside.length > 1 && place < plain.length ? place : 0)
      : place
  }
  return {
    looks,
    of,
    category: (code) => plain[code],
    missing,
    aside: { ...aside[0], colour: MISSING, opacity: 0.9 },
  }
}

function placing(answer: Answer, marks: Marks, missing: number): (i: number) => number {
  const values = marks.colour
  const colour = answer.colour
  if (colour === null || values === null) return () => 0
  if (colour.scale === 'category') return (i) => (values[i] === NO_CATEGORY ? missing : values[i])
  const low = colour.low ?? 0
  const factor = (RAMP_STEPS - 1) / ((colour.high ?? 0) - low || 1)
  return (i) => (Number.isNaN(values[i]) ? missing : Math.round((values[i] - low) * factor))
}
