/** Fewer marks, for pictures so small that more would not be seen. */
import type { Marks } from '@/api/types'

const known = new WeakMap<Marks, Marks>()

type Column = Uint8Array | Uint16Array | Uint32Array | Float64Array

function every(column: Column, step: number): Column {
  const made = new (column.constructor as new (length: number) => Column)(
    Math.ceil(column.length / step),
  )
  for (let i = 0; i < made.length; i++) made[i] = column[i * step]
  return made
}

/** Marks evenly taken from all; the very same where they are few enough. */
export function thinned(marks: Marks, most: number): Marks {
  const step = Math.ceil(marks.row.length / most)
  if (step <= 1) return marks
  let found = known.get(marks)
  if (!found) {
    const fewer = (held: Column | Column[] | null) =>
      Array.isArray(held) ? held.map((one) => every(one, step)) : held && every(held, step)
    found = Object.fromEntries(
      Object.entries(marks).map(([name, held]) => [name, fewer(held as Column)]),
    ) as unknown as Marks
    known.set(marks, found)
  }
  return found
}
