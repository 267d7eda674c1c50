/**
 * How wide words are: from the widths of the fonts' letters and of their pairs, which HarfBuzz has
 * measured. So a figure is laid out alike by every browser, and by a script without one.
 */
import { lruCache } from '@/lib/lru-cache'
import metrics from './metrics.json'
import type { Face, Measure, Weight } from './text'

interface Kept {
  /** Of most letters, in thousandths of an em. */
  width: number
  letters: string
  widths: string
  pairs: null | { letters: string; left: string; right: string; kerning: string }
}

/** One face at one weight. */
interface Hand {
  width: number
  widths: ReadonlyMap<string, number>
  /** How much nearer or further a letter stands to the one after it. */
  kerning: (first: string, second: string) => number
}

/** Kerning is kept from this on, so that none is below zero. */
const LOWEST = -648

/** From here on letters are as wide as they are high (East Asian Wide, UAX 11). */
const WIDE = 0x2e80

/** Numbers of two digits each, to the base of 36. */
const numbers = (text: string): number[] =>
  Array.from({ length: text.length / 2 }, (_, i) => parseInt(text.slice(2 * i, 2 * i + 2), 36))

function handOf(face: Face, weight: Weight): Hand {
  const { width, letters, widths, pairs } = metrics[`${face} ${weight}`] as Kept
  const own = numbers(widths)
  return {
    width,
    widths: new Map([...letters].map((letter, i) => [letter, own[i]])),
    kerning: pairs ? kerningOf(pairs) : () => 0,
  }
}

function kerningOf(pairs: NonNullable<Kept['pairs']>): Hand['kerning'] {
  const place = new Map([...pairs.letters].map((letter, i) => [letter, i]))
  const [left, right, kerning] = [pairs.left, pairs.right, pairs.kerning].map(numbers)
  const columns = Math.max(...right) + 1
  return (first, second) => {
    const [a, b] = [place.get(first), place.get(second)]
    return a === undefined || b === undefined ? 0 : kerning[left[a] * columns + right[b]] + LOWEST
  }
}

const hands = lruCache<string, Hand>(6)

const baseOf = (letter: string): string => letter.normalize('NFD')[0]

function widthOf(letter: string, { width, widths }: Hand): number {
  const own = widths.get(letter)
  if (own !== undefined) return own
  if (/\p{M}/u.test(letter)) return 0
  return (letter.codePointAt(0) ?? 0) >= WIDE ? 1000 : (widths.get(baseOf(letter)) ?? width)
}

/** In thousandths of an em. */
function wide(text: string, hand: Hand): number {
  let sum = 0
  let before = ''
  for (const letter of text) {
    const base = letter < '\u0080' ? letter : baseOf(letter)
    sum += widthOf(letter, hand) + (before ? hand.kerning(before, base) : 0)
    before = base
  }
  return sum
}

const known = lruCache<string, number>(20_000)

/** Measures words in the fonts that come along. */
export const measure: Measure = (text, size, weight, face) => {
  const hand = `${face} ${weight}`
  const thousandths = known.of(hand + text, () =>
    wide(
      text,
      hands.of(hand, () => handOf(face, weight)),
    ),
  )
  return (thousandths / 1000) * size
}
