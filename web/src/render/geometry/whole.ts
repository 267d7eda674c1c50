/** Whether values are whole numbers. */

const known = new WeakMap<Float64Array, boolean>()

/** Looked at once: most columns that hold others hold one among the first. */
export function isWhole(values: Float64Array): boolean {
  let found = known.get(values)
  if (found === undefined) {
    found = values.length > 0
    for (let i = 0; i < values.length && found; i++)
      found = Number.isNaN(values[i]) || Number.isInteger(values[i])
    known.set(values, found)
  }
  return found
}
