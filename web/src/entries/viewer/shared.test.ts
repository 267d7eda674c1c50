import { tableFromArrays, tableToIPC } from 'apache-arrow'
import { describe, expect, it } from 'vitest'
import { blankDocument } from '@/figure-model/blank'
import type { Shared } from '@/api/types'
import { axisAnswer, blankAnswer } from '@/render/testing'
import { unpack } from './shared'

const packed = (columns: Parameters<typeof tableFromArrays>[0]): string =>
  btoa(String.fromCharCode(...tableToIPC(tableFromArrays(columns), 'stream')))

const FIGURE = {
  document: blankDocument('', 'dose', 'shed'),
  answer: blankAnswer(axisAnswer('Dose', 1, 2), axisAnswer('Shed', 3, 4), 2),
  marks: packed({
    row: Uint32Array.of(7, 9),
    x: Float64Array.of(1, 2),
    y: Float64Array.of(3, 4),
    aside: Uint8Array.of(0, 1),
  }),
  variables: [
    { name: 'dose', label: 'Dose', unit: 'g/m²', kind: 'number' },
    { name: 'wind', label: 'Wind', unit: 'm/s', kind: 'number' },
    { name: 'station', label: 'Station', unit: '', kind: 'text' },
  ],
  rows: packed({
    row: Uint32Array.of(7, 9),
    wind: [1.5, null],
    station: ['A1', 'B2'],
  }),
} as unknown as Shared['figures'][number]

describe('what is shared', () => {
  it('is unpacked as it was drawn', () => {
    const { figure } = unpack(FIGURE, 3)
    expect([...figure.marks.row]).toEqual([7, 9])
    expect([...figure.marks.y]).toEqual([3, 4])
    expect([...figure.marks.aside]).toEqual([0, 1])
    expect(figure.marks.colour).toBeNull()
    expect(figure.number).toBe(3)
  })

  it('says of a row what was agreed to, with units, and what is missing', async () => {
    const { rowLines } = unpack(FIGURE, 1)
    expect(await rowLines(7)).toEqual([
      { label: 'Wind', value: '1.5\u00a0m/s' },
      { label: 'Station', value: 'A1' },
    ])
    expect((await rowLines(9))[0]).toEqual({ label: 'Wind', value: 'missing' })
    expect(await rowLines(8)).toEqual([])
  })

  it('knows the words of its variables and of no others', () => {
    const { look } = unpack(FIGURE, 1)
    expect(look('', 'dose')?.unit).toBe('g/m²')
    expect(look('', 'humidity')).toBeNull()
  })
})
