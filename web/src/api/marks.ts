/** Marks as they come: an Arrow IPC stream. */
import { tableFromIPC } from 'apache-arrow'
import type { Marks } from './types'

export function readMarks(buffer: ArrayBuffer): Marks {
  const table = tableFromIPC(new Uint8Array(buffer))
  const column = <T>(name: string) => table.getChild(name)?.toArray() as T
  const some = (name: string) => column<Float64Array | undefined>(name) ?? null
  return {
    row: column('row'),
    x: column('x'),
    y: column('y'),
    aside: column('aside'),
    colour: column<Uint16Array | Float64Array | undefined>('colour') ?? null,
    size: some('size'),
    count: some('count'),
    text: column<Uint16Array | undefined>('text') ?? null,
    columns: table.schema.names
      .map(String)
      .filter((name) => /^v\d+$/.test(name))
      .map((name) => column<Float64Array>(name)),
    order: some('order'),
    depth: some('depth'),
    group: some('group'),
    x_low: some('x_low'),
    x_high: some('x_high'),
    y_low: some('y_low'),
    y_high: some('y_high'),
  }
}
