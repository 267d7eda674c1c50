/** What of a document an answer depends on: everything that its models do not mark as looks. */
import type { FigureDocument } from '@/api/types'
import { VOCABULARY } from './vocabulary'

/** Places below a place; `true` where it is looks, and `*` for every one of several. */
interface Places {
  [name: string]: Places | true
}

const LOOKS: Places = {}
for (const path of VOCABULARY.looks) {
  const names = path.split('.')
  const last = names.pop()!
  const within = names.reduce<Places>((held, name) => (held[name] ??= {}) as Places, LOOKS)
  within[last] = true
}

function without(value: unknown, looks: Places | undefined): unknown {
  if (!looks || typeof value !== 'object' || value === null) return value
  const below = (name: string) => (looks[name] ?? looks['*']) as Places | undefined
  if (Array.isArray(value)) return value.map((one) => without(one, below('*')))
  const left = Object.entries(value).flatMap(([name, held]) =>
    looks[name] === true ? [] : [[name, without(held, below(name))] as const],
  )
  // A part that is there for its looks alone is asked for as little as one that is not there.
  return left.every(([, held]) => held === null) ? null : Object.fromEntries(left)
}

/** The part of a document that an answer depends on, to be compared. */
export const asked = (document: FigureDocument): string => JSON.stringify(without(document, LOOKS))
