/** Ranking by one's own words: what is typed against what a thing is called and looked for by. */
import MiniSearch from 'minisearch'
import { LIGHT, MEANINGS, PHRASES, SILENT, SPELLINGS } from './vocabulary'

export interface Findable {
  label: string
  /** What it stands in or belongs to. */
  where: string
  /** Other words by which people look for it. */
  find?: string
  /** Of a choice, what choosing it sets. */
  value?: string
  /** Why it is off as things stand; empty where it is not. */
  why?: string
}

/** Acts that take something away stand first only where one of these words was typed. */
const TAKES_AWAY = /^(delete|withdraw|empty)\b/i

/** What is off comes after what can be set. */
const OFF = 0.75
/** What is called exactly so is meant above all. */
const EXACT = 2
/** A value of a choice is meant where its own words are said; else the choice itself is. */
const VALUE = { said: 0.8, unsaid: 0.25 }

function stem(word: string): string {
  const same = SPELLINGS[word] ?? word
  const one =
    same.length > 3 && same.endsWith('s') && !same.endsWith('ss') ? same.slice(0, -1) : same
  return SPELLINGS[one] ?? one
}

const split = (text: string): string[] =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLocaleLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)

const wordsOf = (text: string): string[] => split(text).map(stem)

/** Words that mean one thing together, as that. */
const oneThing = (typed: string): string =>
  PHRASES.reduce((text, [phrase, word]) => text.replaceAll(phrase, word), typed.toLocaleLowerCase())

/** The words of what is typed that say what is wanted; all of them where none does. */
export function wanted(typed: string): string[] {
  const words = wordsOf(oneThing(typed.normalize('NFKD')))
  const said = words.filter((word) => !SILENT.has(word))
  return said.length ? said : words
}

/**
 * Build an index of things.
 *
 * @returns finds what is meant by what is typed, the likeliest first; where asked to, only what
 *   answers to every word
 */
export function searcher<Thing extends Findable>(
  things: readonly Thing[],
): (typed: string, most?: number, isWhole?: boolean) => Thing[] {
  const index = new MiniSearch<{ id: number } & Record<string, string | number>>({
    fields: ['label', 'value', 'find', 'where'],
    tokenize: split,
    processTerm: stem,
    searchOptions: {
      boost: { label: 3, value: 3, find: 2, where: 1 },
      prefix: (term) => term.length > 1,
      fuzzy: (term) => (term.length > 5 ? 2 : term.length > 3 ? 1 : false),
      weights: { fuzzy: 0.2, prefix: 0.5 },
    },
  })
  index.addAll(
    things.map(({ label, value = '', find = '', where }, id) => ({
      id,
      label,
      value,
      find,
      where,
    })),
  )

  return (typed, most = 12, isWhole = false) => {
    const words = wanted(typed)
    if (!words.length) return []
    const meant = words.map((word) => [word, ...(MEANINGS[word] ?? [])])
    const isTakenAway = words.some((word) => TAKES_AWAY.test(word))
    const heavy = meant.filter(([word]) => !LIGHT.has(word))
    const counted = heavy.length ? heavy : meant
    return index
      .search({
        combineWith: 'OR',
        queries: meant.flatMap(([word, ...others]) => [
          { queries: [word], boostTerm: () => (LIGHT.has(word) ? 0.2 : 1) },
          ...others.map((query) => ({ queries: [query], boostTerm: () => 0.6 })),
        ]),
      })
      .map(({ id, score, queryTerms, match }) => {
        const thing = things[id as number]
        const said = counted.filter((all) => all.some((word) => queryTerms.includes(word))).length
        const covered = said / counted.length
        const isSaid = Object.values(match).some((fields) => fields.includes('value'))
        const factors = [
          covered ** 2,
          thing.value ? (isSaid ? VALUE.said : VALUE.unsaid) : 1,
          // Of two that answer alike, the one that says less besides is meant.
          1 / (1 + 0.02 * wordsOf(thing.label).length),
          wordsOf(thing.label).join() === words.join() ? EXACT : 1,
          thing.why ? OFF : 1,
          TAKES_AWAY.test(thing.label) && !isTakenAway ? 0.1 : 1,
        ]
        return {
          thing,
          id: id as number,
          covered,
          score: factors.reduce((product, factor) => product * factor, score),
        }
      })
      .filter(({ covered }) => !isWhole || covered === 1)
      .sort((a, b) => b.score - a.score || a.id - b.id)
      .slice(0, most)
      .map(({ thing }) => thing)
  }
}
