/** Which of many rows are among some. */

/** Numbers up to here are looked up by place, which is many times as fast as in a set. */
const MOST_PLACES = 1 << 26

/** 1 for each of the rows that is among some, else 0. */
export function flagged(rows: Uint32Array, among: ReadonlySet<number>): Uint8Array {
  const flags = new Uint8Array(rows.length)
  if (!among.size) return flags
  let last = 0
  for (const row of among) if (row > last) last = row
  if (last >= MOST_PLACES) {
    for (let i = 0; i < rows.length; i++) flags[i] = Number(among.has(rows[i]))
    return flags
  }
  const known = new Uint8Array(last + 1)
  for (const row of among) known[row] = 1
  for (let i = 0; i < rows.length; i++) flags[i] = known[rows[i]] ?? 0
  return flags
}
