// @vitest-environment happy-dom
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'
import { effectScope, ref } from 'vue'
import { fakeServer, settled } from '@/testing/server'
import { useStretches, type Source } from './row-blocks'

const order = { sort: null, descending: false, find: '' }
const rowsFrom = (...numbers: number[]) => numbers.map((row) => ({ row, values: { x: row } }))

beforeEach(() => void setActivePinia(createPinia()))

function stretches(source: Source) {
  const held = ref(source)
  const made = effectScope().run(() => useStretches(() => held.value))!
  return { held, ...made }
}

describe('the rows of the grid', () => {
  it('are asked for again after a failure, and say why they are not there', async () => {
    const server = fakeServer()
    const { total, problem, at, retry } = stretches({ table: 't', version: 1, order, rows: null })
    await settled()
    await server.next('GET', /rows$/).answer({ title: 'Busy.', status: 503 }, 503)
    expect([total.value, problem.value]).toEqual([0, 'Busy.'])
    void retry()
    await settled()
    await server.next('GET', /rows$/).answer({ rows: rowsFrom(4, 5), total: 2 })
    expect([total.value, problem.value, at(1)?.row]).toEqual([2, '', 5])
  })

  it('leave no gap where rows that were listed are gone', async () => {
    const server = fakeServer()
    const { held, total, at, placeOf } = stretches({
      table: 't',
      version: 1,
      order,
      rows: [2, 3, 4, 5],
    })
    await settled()
    await server.next('GET', /rows$/).answer({ rows: rowsFrom(2, 3, 4, 5), total: 4 })
    held.value = { ...held.value, version: 2 }
    await settled()
    await server.next('GET', /rows$/).answer({ rows: rowsFrom(2, 4, 5), total: 3 })
    expect(total.value).toBe(3)
    expect([0, 1, 2, 3].map((place) => at(place)?.row)).toEqual([2, 4, 5, undefined])
    expect([placeOf(3), placeOf(5)]).toEqual([-1, 2])
  })

  it('are those of the table as it is now, whichever answer comes last', async () => {
    const server = fakeServer()
    const { held, at } = stretches({ table: 't', version: 1, order, rows: null })
    await settled()
    const first = server.next('GET', /rows$/)
    held.value = { ...held.value, version: 2 }
    await settled()
    await server.next('GET', /rows$/).answer({ rows: rowsFrom(9), total: 1 })
    await first.answer({ rows: rowsFrom(1, 2), total: 2 })
    expect(at(0)?.row).toBe(9)
  })
})
