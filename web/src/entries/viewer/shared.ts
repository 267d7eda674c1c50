/** What is shared, unpacked: figures as they are drawn, and the rows that can be read. */
import { fromBase64 } from '@/lib/base64'
import { tableFromIPC } from 'apache-arrow'
import { readMarks } from '@/api/marks'
import type { Shared, VariableSummary } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { GAP, valueText } from '@/render/geometry/ticks'
import type { Look } from '@/figure-model/words'

export interface Line {
  label: string
  value: string
}

export interface Shown {
  figure: RenderedFigure
  /** What of a row can be read beyond what is drawn. */
  rowLines: (row: number) => Promise<Line[]>
  look: Look
}

type Packed = Shared['figures'][number]

export function unpack(packed: Packed, number: number): Shown {
  const marks = readMarks(fromBase64(packed.marks).buffer as ArrayBuffer)
  const rows = tableFromIPC(fromBase64(packed.rows))
  const places = new Map<number, number>()
  // Row numbers stand last, after the variables, which may be called anything; on pages that were
  // shared before that was so, the columns have the variables' names.
  const columns = rows.schema.names.map(String)
  const numbered = packed.hovered ? columns.length - 1 : columns.indexOf('row')
  const ids = rows.getChildAt(numbered)?.toArray() as Uint32Array
  ids.forEach((row, place) => places.set(row, place))
  const about = new Map(packed.variables.map((variable) => [variable.name, variable]))
  const hovered = columns
    .map((name, column) => ({ name: packed.hovered?.[column] ?? name, column }))
    .filter(({ column }) => column !== numbered)
  return {
    figure: {
      document: packed.document as unknown as RenderedFigure['document'],
      answer: packed.answer,
      marks,
      number,
    },
    rowLines: (row) => {
      const place = places.get(row)
      if (place === undefined) return Promise.resolve([])
      return Promise.resolve(
        hovered.map(({ name, column }) => {
          const { label, unit } = about.get(name) ?? { label: name, unit: '' }
          const value = rows.getChildAt(column)?.get(place) as number | string | null
          const text = typeof value === 'number' ? valueText(value) : (value ?? '')
          return { label, value: text ? text + (unit ? GAP + unit : '') : 'missing' }
        }),
      )
    },
    // Sentences need the words of a variable, and nothing else of it.
    look: (_, name) => (about.get(name) as VariableSummary | undefined) ?? null,
  }
}
