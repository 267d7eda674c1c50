/** Rows of a table, as text for reading. */
import { lruCache } from '@/lib/lru-cache'
import { client, take } from '@/api/client'
import type { Row, RowsFound } from '@/api/types'
import { GAP, valueText } from '@/render/geometry/ticks'
import { useStudy } from '@/stores/study'

export interface RowLine {
  name: string
  label: string
  value: string
}

export async function fetchRows(table: string, rows: readonly number[]): Promise<Row[]> {
  const found = await take<RowsFound>(
    client.GET('/api/tables/{table_id}/rows', {
      params: { path: { table_id: table }, query: { row: [...rows] } },
    }),
  )
  return found.rows
}

/** In which order rows are looked through, and which of them. */
export interface Order {
  sort: string | null
  descending: boolean
  find: string
}

/** A stretch of a table's rows, and how many there are in all. */
export function fetchStretch(
  table: string,
  { sort, descending, find }: Order,
  start: number,
  count: number,
): Promise<RowsFound> {
  return take<RowsFound>(
    client.GET('/api/tables/{table_id}/rows', {
      params: {
        path: { table_id: table },
        query: { start, count, descending, find, ...(sort === null ? {} : { sort }) },
      },
    }),
  )
}

/** Numbers of the rows of a stretch, however long. */
export async function fetchNumbers(
  table: string,
  { sort, descending, find }: Order,
  start: number,
  count: number,
): Promise<number[]> {
  return take<number[]>(
    client.GET('/api/tables/{table_id}/rows/numbers', {
      params: {
        path: { table_id: table },
        query: { start, count, descending, find, ...(sort === null ? {} : { sort }) },
      },
    }),
  )
}

export const cellText = (value: number | string | null | undefined): string =>
  value === null || value === undefined ? '' : typeof value === 'number' ? valueText(value) : value

const known = lruCache<string, Promise<RowLine[]>>(500)

/** One row, a line for each variable. */
export function rowOf(table: string, row: number): Promise<RowLine[]> {
  const about = useStudy().tableOf(table)
  const key = `${table} ${about?.version} ${row}`
  return known.of(key, () => {
    const asked = fetchRows(table, [row]).then(([found]) => {
      const variables = about?.summary.variables ?? []
      return variables.map(({ name, label, unit }) => {
        const text = cellText(found?.values[name])
        return { name, label, value: text ? text + (unit ? GAP + unit : '') : 'missing' }
      })
    })
    asked.catch(() => known.drop(key))
    return asked
  })
}
