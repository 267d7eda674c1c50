// @vitest-environment happy-dom
import fc from 'fast-check'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref, shallowRef, type EffectScope } from 'vue'
import { Problem } from '@/api/client'
import type { Row, RowsEdit, VariableSummary } from '@/api/types'
import { useStudy } from '@/stores/study'
import { settled } from '@/testing/server'
import { useEditing } from './editing'
import { useSelecting } from './selecting'

const variables = ['x', 'y'].map(
  (name) => ({ name, label: name, kind: 'number', recipe: null }) as VariableSummary,
)

/** A grid over rows whose order and values are given, and a server that answers by hand. */
function grid(numbers: number[]) {
  const rows = shallowRef<Row[]>(numbers.map((row) => ({ row, values: { x: row, y: 10 * row } })))
  const total = ref(rows.value.length)
  const at = (place: number): Row | null => rows.value.at(place) ?? null
  const placeOf = (row: number): number => rows.value.findIndex((one) => one.row === row)
  const looked = () => ({
    table: 't',
    rows: null,
    order: { sort: null, descending: false, find: 'odd' },
  })
  const written: { edit: RowsEdit; answer: (error?: Problem) => Promise<void> }[] = []
  vi.spyOn(useStudy(), 'editRows').mockImplementation(
    (_table, edit) =>
      new Promise((resolve, reject) =>
        written.push({
          edit,
          async answer(error) {
            if (error) reject(error)
            else resolve()
            await settled()
          },
        }),
      ),
  )
  const scope: EffectScope = effectScope()
  const made = scope.run(() => {
    const selecting = useSelecting(
      looked,
      total,
      () => variables.length,
      at,
      () => undefined,
      () => undefined,
    )
    const focus = { cell: () => undefined, field: () => undefined }
    const editing = useEditing(looked, () => variables, total, at, placeOf, selecting, focus)
    return { selecting, editing }
  })!
  return { ...made, rows, total, written, at, scope }
}

const reordered = <T>(all: readonly T[], by: readonly number[]): T[] =>
  all
    .map((one, i) => ({ one, key: by[i % by.length] ?? i }))
    .sort((a, b) => a.key - b.key)
    .map(({ one }) => one)

beforeEach(() => void setActivePinia(createPinia()))

describe('a draft in the grid', () => {
  it('is written into the row where it was begun, though the rows are sorted anew', async () => {
    const { editing, selecting, rows, written } = grid([1, 2, 3])
    await selecting.goTo(1, 1)
    editing.begin('5')
    rows.value = [rows.value[1], rows.value[2], rows.value[0]]
    await nextTick()
    // The field stands where the row stands now.
    expect(selecting.active.value.row).toBe(0)
    expect(editing.isDrafted(0, 'y')).toBe(true)
    editing.text.value = '55'
    editing.commit(1, 0)
    await settled()
    expect(written[0].edit.cells).toEqual([{ row: 2, variable: 'y', text: '55' }])
  })

  it('is written where its row is found no more', async () => {
    const { editing, selecting, rows, written } = grid([1, 2, 3])
    await selecting.goTo(2, 1)
    editing.begin('7')
    rows.value = rows.value.slice(0, 2)
    await settled()
    expect(editing.draft.value).toBeNull()
    expect(written[0].edit.cells).toEqual([{ row: 3, variable: 'y', text: '7' }])
  })

  it('waits in its row, and says so, where another tab changed the table first', async () => {
    const { editing, selecting, rows, written } = grid([1, 2, 3])
    await selecting.goTo(2, 1)
    editing.begin('5')
    editing.commit(1, 0)
    await settled()
    // The other tab deleted the first row, and the table was read again.
    rows.value = rows.value.slice(1)
    await written[0].answer(new Problem(412, 'saved elsewhere'))
    expect(editing.problem.value).toContain('Press Enter to write your value')
    expect(editing.isDrafted(1, 'y')).toBe(true)
    editing.commit(1, 0)
    await settled()
    expect(written[1].edit.cells).toEqual([{ row: 3, variable: 'y', text: '5' }])
    await written[1].answer()
    expect(editing.problem.value).toBe('')
  })

  it('comes back to its own row where it was refused', async () => {
    const { editing, selecting, rows, written } = grid([1, 2, 3])
    await selecting.goTo(1, 1)
    editing.begin('2O')
    editing.commit(1, 0)
    await settled()
    rows.value = [rows.value[1], rows.value[0], rows.value[2]]
    await written[0].answer(new Problem(422, '“2O” is not a number.'))
    expect(editing.draft.value).toEqual({ row: 2, variable: 'y', text: '2O' })
    expect(editing.isDrafted(0, 'y')).toBe(true)
    expect(editing.isRefused(0, 'y')).toBe(true)
  })

  it('lands on its object, whatever is typed, sorted and answered in whichever order', async () => {
    const act = fc.oneof(
      fc.record({ do: fc.constant('go' as const), row: fc.nat(4), column: fc.nat(1) }),
      fc.record({ do: fc.constant('type' as const), text: fc.integer({ min: 100, max: 999 }) }),
      fc.record({ do: fc.constant('commit' as const), down: fc.integer({ min: -1, max: 1 }) }),
      fc.record({ do: fc.constant('sort' as const), by: fc.array(fc.nat(9), { minLength: 5 }) }),
      fc.record({ do: fc.constant('answer' as const), refused: fc.boolean() }),
    )
    await fc.assert(
      fc.asyncProperty(fc.array(act, { maxLength: 25 }), async (acts) => {
        setActivePinia(createPinia())
        const { editing, selecting, rows, written, at, scope } = grid([1, 2, 3, 4, 5])
        const meant: { row: number; variable: string; text: string }[] = []
        let begun: { row: number; variable: string } | null = null
        for (const one of acts) {
          const isOpen = editing.draft.value !== null
          if (one.do === 'go' && !isOpen) await selecting.goTo(one.row, one.column)
          else if (one.do === 'type') {
            if (!isOpen) {
              const { row, column } = selecting.active.value
              begun = { row: at(row)!.row, variable: variables[column].name }
              editing.begin('')
            }
            editing.text.value = String(one.text)
          } else if (one.do === 'commit' && isOpen) {
            const { text } = editing.draft.value!
            const { row, variable } = editing.draft.value!
            // A draft that came back after a refusal is of the cell that was refused.
            if (begun) expect({ row, variable }).toEqual(begun)
            const before = rows.value.find((each) => each.row === row)!.values[variable]
            if (text !== String(before)) meant.push({ row, variable, text })
            begun = null
            editing.commit(one.down, 0)
          } else if (one.do === 'sort') rows.value = reordered(rows.value, one.by)
          else if (one.do === 'answer') {
            const open = written.at(-1)
            await open?.answer(one.refused ? new Problem(422, 'no') : undefined)
            if (editing.draft.value && !isOpen)
              begun = { ...editing.draft.value, text: undefined } as never
            if (begun) begun = { row: begun.row, variable: begun.variable }
          }
          await nextTick()
          await settled()
        }
        for (const { answer } of written) await answer()
        const sent = written.map(({ edit }) => edit.cells![0])
        // Everything that was meant is sent, in order, into the cell where it was typed.
        expect(sent).toEqual(meant.slice(0, sent.length))
        scope.stop()
      }),
      { numRuns: 40 },
    )
  })
})
