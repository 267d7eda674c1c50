/** How each mark of a figure looks: its colour, shape, size, opacity, and whether it is set aside. */
import type { Answer, ColourAnswer, FigureDocument, Marks } from '@/api/types'
import { entriesOf, entryOf, isNameOf, ofEntry, type CategoryEntry } from '@/render/entries'
import { diameterOf, largestFirst, stepOf } from './bubbles'
import { CATEGORIES, fromHex, INK, MISSING, RAMPS, RAMP_STEPS, stepsOf } from '@/render/colours'
import { inOrder, inTurn, mapped } from '@/render/geometry/columns'
import { memoizeByDependencies } from '@/lib/lru-cache'
import { opacityFor } from './crowding'
import type { Colour, MarkLook } from '@/render/scene'
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

const ownLook = ({ marks }: FigureDocument, entry: CategoryEntry): OwnLook | null =>
  ofEntry(marks.each, entry)

/** The colour of a category on this figure: the one that was chosen for it here, or the study's. */
export const colourOn = (document: FigureDocument, colour: ColourAnswer, code: number): Colour => {
  const own = ownLook(document, entryOf(colour, code))?.colour
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
  const base = baseLooks(document, answer, marks, plotArea)
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
  const bySize = sized(made, document, answer, marks)
  const order = orderOf(document, answer, marks, bySize.sizes)
  return { ...singledOut(bySize, document, marks), order }
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

/** A category of fewer marks than one in so many is as opaque as if it were one in so many. */
const SMALL_GROUP = 10

const countsOf = memoizeByDependencies<Marks, Uint32Array>()

/** How many marks each category has. */
const marksOfEach = (marks: Marks, categories: number): Uint32Array =>
  countsOf(marks, [categories], () => {
    const counts = new Uint32Array(categories)
    for (const code of marks.colour ?? []) if (code < categories) counts[code]++
    return counts
  })

function baseLooks(document: FigureDocument, answer: Answer, marks: Marks, plotArea: number): Base {
  const count = marks.row.length
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
  const counts = marksOfEach(marks, colour.categories.length)
  /** A small group among many marks is not as pale as the many are. */
  const ofGroup = (colour: Colour, turn: number, own: OwnLook | null, code: number): MarkLook => ({
    ...filled(colour, turn, own),
    opacity: opacityOf(document, Math.min(count, SMALL_GROUP * counts[code]), plotArea),
  })
  const each = (
    make: (colour: Colour, turn: number, own: OwnLook | null, code: number) => MarkLook,
  ): MarkLook[] =>
    entriesOf(colour).map((entry) =>
      make(
        colourOn(document, colour, entry.code),
        colour.turns[entry.code],
        ownLook(document, entry),
        entry.code,
      ),
    )
  return { plain: each(ofGroup), missing, aside: each(hollow) }
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

interface SizedPlaces {
  of: Uint16Array
  sizes: Float32Array
  /** For each look that is added, of which it is made. */
  added: { look: number; size: number; bare: boolean }[]
}

const sizedPlaces = memoizeByDependencies<Marks, SizedPlaces>()

/** Gives marks the size of their value; each size and look together make a look. */
function sized(made: Looks, document: FigureDocument, answer: Answer, marks: Marks): Looks {
  const { size } = document
  const values = marks.size
  if (!size || !answer.size || !values) return made
  const told = answer.size
  const before = made.looks.length
  const key = JSON.stringify(size)
  const { of, sizes, added } = sizedPlaces(marks, [made.of, before, key], () => {
    const sizes = mapped(values, diameterOf(size, told))
    const known = new Map<number, number>()
    const added: SizedPlaces['added'] = []
    const of = new Uint16Array(values.length)
    for (let i = 0; i < of.length; i++) {
      const bare = !(values[i] > 0)
      // Without a size there is one step, the smallest, whose number stands below all others.
      const key = (bare ? 0 : stepOf(sizes[i])) * before + made.of[i]
      let place = known.get(key)
      if (place === undefined) {
        place = before + added.push({ look: made.of[i], size: sizes[i], bare }) - 1
        known.set(key, place)
      }
      of[i] = place
    }
    return { of, sizes, added }
  })
  const looks = added.map(({ look, size, bare }): MarkLook => {
    const own = made.looks[look]
    return { ...own, size, hollow: own.hollow || bare, halo: bare ? 0 : own.halo }
  })
  return { ...made, looks: [...made.looks, ...looks], of, sizes }
}

interface SingledPlaces {
  of: Uint16Array
  /** The marks that are chosen. */
  chosen: number[]
  added: { look: number; group: number }[]
}

const singledPlaces = memoizeByDependencies<Marks, SingledPlaces>()
const rowsSingledOut = (document: FigureDocument): string =>
  JSON.stringify(document.singled_out.map(({ rows }) => rows))

/** Gives chosen marks their own look. */
function singledOut(made: Looks, document: FigureDocument, marks: Marks): Looks {
  if (!document.singled_out.length) return made
  const before = made.looks.length
  const { of, chosen, added } = singledPlaces(
    marks,
    [made.of, before, rowsSingledOut(document)],
    () => {
      const groups = groupsOf(document)
      const of = made.of.slice()
      const known = new Map<string, number>()
      const chosen: number[] = []
      const added: SingledPlaces['added'] = []
      for (let i = 0; i < of.length; i++) {
        const group = groups.get(marks.row[i])
        if (group === undefined) continue
        chosen.push(i)
        const key = `${of[i]} ${group}`
        let place = known.get(key)
        if (place === undefined) {
          place = before + added.push({ look: of[i], group }) - 1
          known.set(key, place)
        }
        of[i] = place
      }
      return { of, chosen, added }
    },
  )
  const looks = [
    ...made.looks,
    ...added.map(({ look, group }): MarkLook => {
      const { colour, shape, size } = document.singled_out[group]
      const own = made.looks[look]
      return {
        ...own,
        // A size that means something stays as it is: a ring stands out as well.
        size: document.size ? own.size : own.size * size,
        edge: document.size || !colour ? INK : own.edge,
        colour: colour ? fromHex(colour) : own.colour,
        shape: shape ?? own.shape,
        opacity: Math.max(own.opacity, 0.95),
        halo: Math.max(own.halo, document.size || !colour ? 1.8 : 1),
      }
    }),
  ]
  const sizes = made.sizes?.slice() ?? null
  if (sizes) for (const i of chosen) sizes[i] = looks[of[i]].size
  return { ...made, looks, of, sizes }
}

function groupsOf(document: FigureDocument): Map<number, number> {
  const groups = new Map<number, number>()
  document.singled_out.forEach(({ rows }, group) => rows.forEach((row) => groups.set(row, group)))
  return groups
}

const orders = memoizeByDependencies<Marks, Uint32Array | null>()

/**
 * In which order marks are drawn: the largest first, the categories that are to lie in front after
 * the others, and over all what is singled out; as they come where null.
 */
function orderOf(
  document: FigureDocument,
  { colour }: Answer,
  marks: Marks,
  sizes: Float32Array | null,
): Uint32Array | null {
  const { front } = document.marks
  const codes = colour?.scale === 'category' && front.length ? marks.colour : null
  const key = JSON.stringify([codes && front, rowsSingledOut(document)])
  return orders(marks, [sizes, key], () => {
    const count = marks.row.length
    let order = sizes ? largestFirst(sizes) : null
    const layered = (rank: (i: number) => number, ranks: number): void => {
      const under = order ?? inTurn(count)
      order = inOrder(mapped(under, rank), ranks).map((place) => under[place])
    }
    if (codes) {
      const rank = entriesOf(colour!).map(
        (entry) => front.findIndex((name) => isNameOf(name, entry)) + 1,
      )
      layered((i) => (codes[i] === NO_CATEGORY ? 0 : rank[codes[i]]), front.length + 1)
    }
    if (document.singled_out.length) {
      const groups = groupsOf(document)
      layered((i) => Number(groups.has(marks.row[i])), 2)
    }
    return order
  })
}
