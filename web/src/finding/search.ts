/** Finding by one's own words: what is typed against what a thing is called and looked for by. */

export interface Findable {
  label: string
  /** What it stands in or belongs to. */
  where: string
  /** Other words by which people look for it. */
  find?: string
  /** Why it is off as things stand; empty where it is not. */
  why?: string
}

/** Words that say nothing of what is wanted. */
const SILENT = new Set(
  (
    'a an the of for to my me i this that these those it its in into on at by with from as is are be ' +
    'do does how what where which can could want wants would make makes get gets rid set sets put ' +
    'add adds puts show shows have has give some any please change use and or so'
  ).split(' '),
)

/** Words that are one word here. */
const SAME: Record<string, string> = {
  color: 'colour',
  colors: 'colour',
  coloured: 'colour',
  colored: 'colour',
  gray: 'grey',
  center: 'centre',
  labels: 'label',
  axes: 'axis',
}

/** Counts for a word of what is wanted, by where it stands. */
const LABEL = { whole: 10, start: 7, typo: 4 }
const FIND = { whole: 8, start: 5, typo: 3 }
const WHERE = { whole: 5, start: 3, typo: 0 }
/** A word that stands nowhere speaks against it. */
const MISSED = -4
/** What cannot be set now comes after what can. */
const OFF = 0.75

const wordsOf = (text: string): string[] =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLocaleLowerCase()
    .split(/[^\p{L}\p{N}²]+/u)
    .filter(Boolean)
    .map(stem)

function stem(word: string): string {
  const same = SAME[word] ?? word
  return same.length > 3 && same.endsWith('s') && !same.endsWith('ss') ? same.slice(0, -1) : same
}

/** Whether one letter is wrong, missing, too many, or in its neighbour's place. */
function isNear(a: string, b: string): boolean {
  if (Math.abs(a.length - b.length) > 1 || a.length < 4) return false
  let i = 0
  while (i < a.length && a[i] === b[i]) i++
  const rest = (s: string, from: number) => s.slice(from)
  return (
    rest(a, i + 1) === rest(b, i + 1) ||
    rest(a, i + 1) === rest(b, i) ||
    rest(a, i) === rest(b, i + 1) ||
    (a[i] === b[i + 1] && a[i + 1] === b[i] && rest(a, i + 2) === rest(b, i + 2))
  )
}

function counts(word: string, words: readonly string[], by: typeof LABEL): number {
  if (words.includes(word)) return by.whole
  const begins = (one: string) =>
    (word.length > 1 && one.startsWith(word)) || (one.length > 3 && word.startsWith(one))
  if (words.some(begins)) return by.start
  return words.some((one) => isNear(word, one)) ? by.typo : 0
}

/** The words of what is typed that say what is wanted; all of them where none does. */
export function wanted(typed: string): string[] {
  const words = wordsOf(typed)
  const said = words.filter((word) => !SILENT.has(word))
  return said.length ? said : words
}

/**
 * What is meant by what is typed, the likeliest first.
 *
 * A word that few things answer to counts for more than one that many do.
 */
export function search<Thing extends Findable>(
  things: readonly Thing[],
  typed: string,
  most = 12,
): Thing[] {
  const words = wanted(typed)
  if (!words.length) return []
  const read = things.map((thing) => ({
    thing,
    label: wordsOf(thing.label),
    find: wordsOf(thing.find ?? ''),
    where: wordsOf(thing.where),
  }))
  const scores = read.map(({ label, find, where }) =>
    words.map((word) =>
      Math.max(counts(word, label, LABEL), counts(word, find, FIND), counts(word, where, WHERE)),
    ),
  )
  const weights = words.map((_, i) => {
    const answering = scores.filter((of) => of[i] > WHERE.whole).length
    return 1 / (1 + Math.log2(1 + answering / 8))
  })
  return read
    .map(({ thing, label }, k) => {
      const total = scores[k].reduce((sum, score, i) => sum + weights[i] * (score || MISSED), 0)
      // Of two that answer alike, the one that says less besides is meant.
      const said = total - 0.05 * label.length
      return {
        thing,
        k,
        found: Math.max(...scores[k]) > WHERE.start,
        score: thing.why ? said * OFF : said,
      }
    })
    .filter(({ found }) => found)
    .sort((a, b) => b.score - a.score || a.k - b.k)
    .slice(0, most)
    .map(({ thing }) => thing)
}
