/** How each mark of a figure looks: its colour, shape, size, opacity, and whether it is set aside. */
import type { Answer, ColourAnswer, FigureDocument, Marks } from '@/api/types'
import { diameterOf, largestFirst, stepOf } from './bubbles'
import { CATEGORIES, fromHex, INK, MISSING, RAMPS, RAMP_STEPS, stepsOf } from '@/drawing/colours'
import { inOrder, inTurn, mapped } from '@/drawing/geometry/columns'
import { opacityFor } from './crowding'
import type { Colour, MarkLook } from '@/drawing/scene'
import type { Shape } from './shapes'

/** Code of a mark that has no value of the colour variable. */
const NO_CATEGORY = 65_535
/** Above so many marks the hairline between them no longer shows. */
const MOST_WITH_HALO = 20_000
const HALO = 0.55
const ASIDE_OPACITY = 0.5
/** Bubbles overlap, and what lies below must show. */
const BUBBLE_OPACITY = 0.72

/** Beyond eight categories colours repeat with another shape. */
const SHAPES_IN_TURN: readonly Shape[] = ['disc', 'square', 'triangle', 'diamond', 'plus', 'star']

/** The colour of a category: its own, or that of its turn in the study. */
export const categoryColour = (turn: number, own: string | null): Colour =>
  own ? fromHex(own) : CATEGORIES[turn % CATEGORIES.length]

/** The colour of a category of an answer, by its code. */
export const colourOfCode = (colour: ColourAnswer, code: number): Colour =>
  categoryColour(colour.turns[code], colour.colours[code])

type OwnLook = FigureDocument['marks']['each'][string]

const ownLook = ({ marks }: FigureDocument, name: string): OwnLook | null =>
  name in marks.each ? marks.each[name] : null

/** The colour of a category on this figure: the one that was chosen for it here, or the study's. */
export const colourOn = (document: FigureDocument, colour: ColourAnswer, code: number): Colour => {
  const own = ownLook(document, colour.categories[code])?.colour
  return own ? fromHex(own) : colourOfCode(colour, code)
}

const categoryShape = (turn: number, chosen: Shape): Shape =>
  turn < CATEGORIES.length
    ? chosen
    : SHAPES_IN_TURN[Math.floor(turn / CATEGORIES.length) % SHAPES_IN_TURN.length]

/** The steps of colour that amounts are drawn in, and where on them an amount lies. */
export interface Ramp {
  steps: readonly Colour[]
  low: number
  high: number
  /** From 0 to 1; beyond where an amount lies past the ends. */
  share: (amount: number) => number
}

export function rampOf(document: FigureDocument, colour: ColourAnswer): Ramp {
  const wanted = document.colour
  const low = wanted?.low ?? colour.low ?? 0
  const high = Math.max(wanted?.high ?? colour.high ?? 1, low)
  const at = RAMPS[wanted?.ramp ?? 'dew']
  const turned = (share: number): Colour => at(wanted?.reversed ? 1 - share : share)
  const middle = wanted?.middle ?? null
  const share = (amount: number): number => {
    if (middle === null || !(middle > low && middle < high))
      return (amount - low) / (high - low || 1)
    return amount < middle
      ? (0.5 * (amount - low)) / (middle - low)
      : 0.5 + (0.5 * (amount - middle)) / (high - middle)
  }
  return { steps: stepsOf(turned, wanted?.steps ?? RAMP_STEPS), low, high, share }
}

export interface Looks {
  looks: MarkLook[]
  /** For each mark its place in `looks`. */
  of: Uint16Array
  /** Diameter of each mark, in points, where they differ. */
  sizes: Float32Array | null
  /** In which order marks are drawn; as they come where null. */
  order: Uint32Array | null
  /** The look of a category in the legend; of a mark without a value; of one set aside. */
  category: (code: number) => MarkLook
  missing: MarkLook
  aside: MarkLook
}

/** What is left of the opacity of marks that are faded. */
const FADED = 0.1

/**
 * Works out the look of every mark.
 *
 * @param only the code of a category, where all others are faded
 */
export function looksOf(
  document: FigureDocument,
  answer: Answer,
  marks: Marks,
  plotArea: number,
  only: number | null = null,
): Looks {
  const count = marks.row.length
  const base = baseLooks(document, answer, count, plotArea)
  const { plain, missing, aside } = base
  const { looks, at } = eachOnce(
    [...plain, missing, ...aside].map((look, place) =>
      only === null || place === only || place === plain.length + 1 + only
        ? look
        : { ...look, opacity: look.opacity * FADED, halo: 0 },
    ),
  )
  const of = placesOf(document, answer, marks, { plain: plain.length, aside: aside.length, at })
  const made: Looks = {
    looks,
    of,
    sizes: null,
    order: null,
    category: (code) => plain[code],
    missing,
    aside: { ...aside[0], colour: MISSING, opacity: 0.9 },
  }
  const ordered = fronted(sized(made, document, answer, marks), document, answer, marks)
  return singledOut(ordered, document, marks)
}

/**
 * Leaves each look once: of tens of thousands of categories many share one, and there is room for
 * no more numbers than 16 bits hold.
 *
 * @returns the looks, and where each of those given is among them
 */
function eachOnce(all: MarkLook[]): { looks: MarkLook[]; at: Uint16Array } {
  const known = new Map<string, number>()
  const looks: MarkLook[] = []
  const at = Uint16Array.from(all, (look) => {
    const key = JSON.stringify(look)
    const place = known.get(key) ?? looks.push(look) - 1
    known.set(key, place)
    return place
  })
  return { looks, at }
}

/** The latest of each answer's marks: which looks they have changes seldom, how these are often. */
const placed = new WeakMap<Marks, { key: string; at: Uint16Array; of: Uint16Array }>()

interface Places {
  /** How many plain looks there are, and of rows set aside. */
  plain: number
  aside: number
  /** Where each of them, and that of a missing value between them, is among the looks. */
  at: Uint16Array
}

/** For each mark the place of its look: the same column as long as these are the same. */
function placesOf(
  document: FigureDocument,
  answer: Answer,
  marks: Marks,
  { plain, aside, at }: Places,
): Uint16Array {
  const key = JSON.stringify([document.colour, plain, aside])
  const known = placed.get(marks)
  if (known?.key === key && known.at.every((place, i) => place === at[i])) return known.of
  const placeOf = placing(document, answer, marks, plain)
  const of = new Uint16Array(marks.row.length)
  for (let i = 0; i < of.length; i++) {
    const place = placeOf(i)
    of[i] = at[marks.aside[i] ? plain + 1 + (aside > 1 && place < plain ? place : 0) : place]
  }
  placed.set(marks, { key, at, of })
  return of
}

/** How opaque marks are: as was set, or as their crowding asks for. */
export const opacityOf = (
  { marks, size, page }: FigureDocument,
  count: number,
  plotArea = page.width * page.height * 0.7,
): number => marks.opacity ?? (size ? BUBBLE_OPACITY : opacityFor(count, marks.size, plotArea))

interface Base {
  plain: MarkLook[]
  missing: MarkLook
  aside: MarkLook[]
}

function baseLooks(
  document: FigureDocument,
  answer: Answer,
  count: number,
  plotArea: number,
): Base {
  const { shape, size, hollow: allHollow, outline, colour: fixed } = document.marks
  const opacity = opacityOf(document, count, plotArea)
  const halo = outline ? outline.width : count > MOST_WITH_HALO ? 0 : HALO
  const filled = (colour: Colour, turn = 0, own: OwnLook | null = null): MarkLook => ({
    shape: own?.shape ?? categoryShape(turn, shape),
    size: size * (own?.size ?? 1),
    colour,
    opacity,
    hollow: allHollow,
    halo,
    edge: outline ? (outline.colour ? fromHex(outline.colour) : colour) : null,
  })
  const hollow = (colour: Colour, turn = 0, own: OwnLook | null = null): MarkLook => ({
    ...filled(colour, turn, own),
    opacity: ASIDE_OPACITY,
    hollow: true,
    halo: 0,
  })
  const missing = { ...hollow(MISSING), opacity: 0.9 }
  const colour = answer.colour
  if (colour === null) {
    const one = fixed ? fromHex(fixed) : CATEGORIES[0]
    return { plain: [filled(one)], missing, aside: [hollow(one)] }
  }
  if (colour.scale === 'amount')
    return {
      plain: rampOf(document, colour).steps.map((step) => filled(step)),
      missing,
      aside: [hollow(INK)],
    }
  const each = (make: typeof filled): MarkLook[] =>
    colour.categories.map((name, code) =>
      make(colourOn(document, colour, code), colour.turns[code], ownLook(document, name)),
    )
  return { plain: each(filled), missing, aside: each(hollow) }
}

function placing(
  document: FigureDocument,
  answer: Answer,
  marks: Marks,
  missing: number,
): (i: number) => number {
  const values = marks.colour
  const colour = answer.colour
  if (colour === null || values === null) return () => 0
  if (colour.scale === 'category') return (i) => (values[i] === NO_CATEGORY ? missing : values[i])
  const { steps, share } = rampOf(document, colour)
  const last = steps.length - 1
  const stepped = document.colour?.steps != null
  return (i) => {
    if (Number.isNaN(values[i])) return missing
    const at = share(values[i])
    const step = stepped ? Math.floor(at * steps.length) : Math.round(at * last)
    return Math.max(0, Math.min(last, step))
  }
}

/** Gives marks the size of their value; each size and look together make a look. */
function sized(made: Looks, document: FigureDocument, answer: Answer, marks: Marks): Looks {
  if (!document.size || !answer.size || !marks.size) return made
  const values = marks.size
  const diameter = diameterOf(document.size, answer.size)
  const sizes = mapped(values, diameter)
  const looksBefore = made.looks.length
  const known = new Map<number, number>()
  const looks = [...made.looks]
  const of = new Uint16Array(made.of.length)
  for (let i = 0; i < of.length; i++) {
    const bare = !(values[i] > 0)
    // Without a size there is one step, the smallest, whose number stands below all others.
    const key = (bare ? 0 : stepOf(sizes[i])) * looksBefore + made.of[i]
    let place = known.get(key)
    if (place === undefined) {
      const look = made.looks[made.of[i]]
      place = looks.length
      looks.push({
        ...look,
        size: sizes[i],
        hollow: look.hollow || bare,
        halo: bare ? 0 : look.halo,
      })
      known.set(key, place)
    }
    of[i] = place
  }
  return { ...made, looks, of, sizes, order: largestFirst(sizes) }
}

/** Draws the categories that are to lie in front after the others. */
function fronted(
  made: Looks,
  { marks: { front } }: FigureDocument,
  { colour }: Answer,
  marks: Marks,
): Looks {
  const codes = marks.colour
  if (!front.length || colour?.scale !== 'category' || !codes) return made
  const rank = colour.categories.map((name) => front.indexOf(name))
  const rankOf = (i: number): number => (codes[i] === NO_CATEGORY ? -1 : rank[codes[i]])
  const order = made.order ?? inTurn(made.of.length)
  const layers = inOrder(
    mapped(order, (i) => rankOf(i) + 1),
    front.length + 1,
  )
  return { ...made, order: layers.map((place) => order[place]) }
}

/** Gives chosen marks their own look, and draws them over the others. */
function singledOut(made: Looks, document: FigureDocument, marks: Marks): Looks {
  if (!document.singled_out.length) return made
  const groups = new Map<number, number>()
  document.singled_out.forEach(({ rows }, group) => rows.forEach((row) => groups.set(row, group)))
  const looks = [...made.looks]
  const of = made.of.slice()
  const sizes = made.sizes?.slice() ?? null
  const known = new Map<string, number>()
  const front: number[] = []
  for (let i = 0; i < of.length; i++) {
    const group = groups.get(marks.row[i])
    if (group === undefined) continue
    front.push(i)
    const key = `${of[i]} ${group}`
    let place = known.get(key)
    if (place === undefined) {
      const { colour, shape, size } = document.singled_out[group]
      const look = made.looks[of[i]]
      place = looks.length
      looks.push({
        ...look,
        size: look.size * size,
        colour: colour ? fromHex(colour) : look.colour,
        shape: shape ?? look.shape,
        opacity: Math.max(look.opacity, 0.95),
        halo: Math.max(look.halo, 1),
      })
      known.set(key, place)
    }
    of[i] = place
    if (sizes) sizes[i] = looks[place].size
  }
  const order = made.order ?? inTurn(of.length)
  const chosen = new Uint8Array(of.length)
  for (const i of front) chosen[i] = 1
  const back = order.filter((i) => !chosen[i])
  const drawn = new Uint32Array(order.length)
  drawn.set(back)
  drawn.set(
    order.filter((i) => chosen[i]),
    back.length,
  )
  return { ...made, looks, of, sizes, order: drawn }
}
