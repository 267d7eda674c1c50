// @vitest-environment happy-dom
/** The page as a machine: each effect lands on its object, whatever is open when the answer comes. */
import { mount } from '@vue/test-utils'
import fc from 'fast-check'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { nextTick } from 'vue'
import { blankDocument } from '@/figure-model/blank'
import { Problem } from '@/api/client'
import type { Figure, FigureDocument, Study, StudyContents, Table } from '@/api/types'
import SelectionPanel from '@/features/figure/SelectionPanel.vue'
import { offered } from '@/stores/commands'
import StudySidebar from '@/features/sidebar/StudySidebar.vue'
import Foot from '@/features/study/Foot.vue'
import StudyBar from '@/features/study/StudyBar.vue'
import { fakeServer, settled } from '@/testing/server'
import { copyOf } from '@/lib/copy'
import { useFigure } from './figure'
import { useHistory } from './history'
import { queryClient } from './query-client'
import { RESTS_ON, useKeys, type Answer } from './queries'
import { useSelection } from './selection'
import { useStudy } from './study'
import { kept } from './testing'
import { useUndo } from './undo'

const variable = (name: string) => ({ name, label: name, unit: '', kind: 'number', counts: null })

const table = (id: string, study: string, version = 1): Table =>
  ({
    id,
    study,
    name: id,
    version,
    dataset: null,
    summary: { rows: 9, variables: ['x', 'y', 'z'].map(variable) },
  }) as unknown as Table

const figure = (id: string, of: string): Figure =>
  ({ id, document: blankDocument(of, 'x', 'y'), revision: 1 }) as unknown as Figure

const contents = (id: string, figures: string[] = [`${id}1`, `${id}2`]): StudyContents =>
  ({
    id,
    name: `Study ${id}`,
    categories: {},
    filters: [],
    looks: [],
    formulas: [],
    tables: [table(`t${id}`, id), table(`u${id}`, id)],
    figures: figures.map((one, i) => figure(one, i % 2 ? `u${id}` : `t${id}`)),
    plates: [],
    unreadable: [],
  }) as unknown as StudyContents

let server: ReturnType<typeof fakeServer>

beforeEach(() => {
  vi.stubGlobal('sessionStorage', kept())
  vi.stubGlobal('localStorage', kept())
  setActivePinia(createPinia())
  queryClient.clear()
  server = fakeServer()
})

async function opened(id: string, figures?: string[]) {
  const studies = useStudy()
  const loading = studies.load(id)
  await settled()
  await server.next('GET', `/api/studies/${id}`).answer(contents(id, figures))
  await loading
  return studies
}

const openFigure = (id: string): void =>
  void useFigure().open(useStudy().figures.find((one) => one.id === id)!)

describe('opening a study', () => {
  it('clears the one before at once, also where the new one never comes', async () => {
    const studies = await opened('a')
    const loading = studies.load('b')
    expect([studies.study, studies.tables, studies.figures]).toEqual([null, [], []])
    const lost = expect(loading).rejects.toThrow('There is no study')
    await settled()
    await server.next('GET', '/api/studies/b').answer({ title: 'There is no study.' }, 404)
    await lost
    expect(studies.study).toBeNull()
  })

  const acts: [
    string,
    (studies: ReturnType<typeof useStudy>) => Promise<unknown>,
    string,
    unknown,
  ][] = [
    ['rename', (s) => s.rename('Other'), 'PATCH', { ...contents('a'), name: 'Other' }],
    ['looks of categories', (s) => s.setLooks('g', []), 'PUT', contents('a')],
    [
      'a saved look',
      (s) => s.save({ of: 'look', value: { name: 'n' } as never }),
      'PUT',
      contents('a'),
    ],
    ['a figure', (s) => s.addFigure(blankDocument('ta', 'x', 'y')), 'POST', figure('a9', 'ta')],
    ['deleting', (s) => s.remove('figure', 'a1'), 'DELETE', null],
  ]

  it.each(acts)(
    'is not undone by a late answer of the study before: %s',
    async (_, act, method, said) => {
      const studies = await opened('a')
      const acting = act(studies)
      await settled()
      const late = server.next(method, /^\/api\//)
      expect(late.path.startsWith('/api/studies/a') || late.path.includes('a1')).toBe(true)
      await opened('b')
      const before = JSON.stringify([studies.study, studies.figures, studies.tables])
      await late.answer(said, method === 'DELETE' ? 204 : 200)
      await acting
      expect(JSON.stringify([studies.study, studies.figures, studies.tables])).toBe(before)
      expect(useHistory().canUndo).toBe(false)
    },
  )

  it('takes a table that arrives late to its own study', async () => {
    const studies = await opened('a')
    await opened('b')
    expect(await studies.added({ table: table('n', 'a'), figure: null } as never)).toBe(false)
    expect(studies.tables.map(({ id }) => id)).toEqual(['tb', 'ub'])
  })
})

describe('a selection', () => {
  it('is of its table alone', () => {
    const selection = useSelection()
    selection.select('t', [1, 2])
    expect([...selection.rowsIn('t')]).toEqual([1, 2])
    expect(selection.rowsIn('u').size).toBe(0)
    selection.select('u', [5], 'add')
    expect([[...selection.rowsIn('t')], [...selection.rowsIn('u')]]).toEqual([[], [5]])
    selection.keepOnly('u', (row) => row !== 5)
    expect(selection.selected).toBeNull()
  })

  it('filters the figure for which it was pressed, though another is open by then', async () => {
    const studies = await opened('a')
    openFigure('a1')
    await settled()
    useSelection().select('ta', [3, 4])
    const panel = mount(SelectionPanel, {
      props: { figure: 'a1', table: 'ta' },
      shallow: true,
      global: { renderStubDefaultSlot: true },
    })
    const action = panel
      .findAllComponents({ name: 'UiAction' })
      .find((one) => one.text() === 'Keep only these')!
    action.vm.$emit('click')
    await settled()
    const memoizeByDependencies = server.next('PUT', /variables/)
    openFigure('a2')
    await memoizeByDependencies.answer(table('ta', 'a', 2))
    const rows = (id: string) => studies.figures.find((one) => one.id === id)!.document.rows
    expect(rows('a1')?.conditions[0].values).toEqual(['selection 1'])
    expect([rows('a2'), useFigure().document?.rows]).toEqual([null, null])
    // It is saved over its own revision, and undo takes it back where it was.
    void useFigure().flush()
    await settled()
    expect(server.sent.some(({ path }) => path === '/api/figures/a1')).toBe(true)
    panel.unmount()
  })

  it('is not cut off unseen where it is too large', async () => {
    const studies = await opened('a')
    openFigure('a1')
    await settled()
    useSelection().select(
      'ta',
      Array.from({ length: 13_000 }, (_, i) => i),
    )
    const panel = mount(SelectionPanel, {
      props: { figure: 'a1', table: 'ta' },
      shallow: true,
      global: { renderStubDefaultSlot: true },
    })
    for (const label of ['Highlight', 'Label them']) {
      const action = panel
        .findAllComponents({ name: 'UiAction' })
        .find((one) => one.text() === label)!
      action.vm.$emit('click')
      await nextTick()
      expect(panel.text()).toMatch(/13.000 are selected/)
    }
    expect(studies.figures[0].document.singled_out).toEqual([])
    panel.unmount()
  })
})

describe('undo', () => {
  it('brings back what was deleted, and nothing else', async () => {
    const studies = await opened('a')
    const history = useHistory()
    history.record({ kind: 'table', id: 'ta', before: 1, after: 2 })
    const deleting = studies.remove('figure', 'a1')
    await settled()
    await server.next('DELETE', '/api/figures/a1').answer(null, 204)
    await deleting
    expect(studies.figures.map(({ id }) => id)).toEqual(['a2'])
    const shown: string[] = []
    const { undo, redo } = useUndo(async (_kind, id) => shown.push(id))
    const undoing = undo()
    await settled()
    await server.next('POST', '/api/figures/a1/return').answer(figure('a1', 'ta'))
    await server.next('GET', '/api/studies/a').answer(contents('a'))
    await undoing
    expect(studies.figures.map(({ id }) => id)).toEqual(['a1', 'a2'])
    expect(shown).toEqual(['a1'])
    expect(history.last()).toMatchObject({ kind: 'table' })
    const again = redo()
    await settled()
    await server.next('DELETE', '/api/figures/a1').answer(null, 204)
    await again
    expect(studies.figures.map(({ id }) => id)).toEqual(['a2'])
  })

  it('leaves a figure in its place where deleting fails', async () => {
    const studies = await opened('a')
    const deleting = studies.remove('figure', 'a1')
    const refused = expect(deleting).rejects.toThrow('Busy')
    await settled()
    await server.next('DELETE', '/api/figures/a1').answer({ title: 'Busy.' }, 503)
    await refused
    expect(studies.figures).toHaveLength(2)
    expect(useHistory().canUndo).toBe(false)
  })

  it('of everything is the beginning, and redo the end, whatever was changed in which figure', async () => {
    type Change = [figure: number, field: 'title' | 'subtitle' | 'caption', words: string]
    const change = fc.tuple(
      fc.nat(1),
      fc.constantFrom('title', 'subtitle', 'caption'),
      fc.string({ maxLength: 3 }),
    ) as fc.Arbitrary<Change>
    await fc.assert(
      fc.asyncProperty(fc.array(change, { maxLength: 12 }), async (changes) => {
        vi.stubGlobal('sessionStorage', kept())
        setActivePinia(createPinia())
        server = fakeServer()
        const studies = await opened('a')
        openFigure('a1')
        const figures = useFigure()
        const documents = (): FigureDocument[] => ['a1', 'a2'].map((id) => figures.documentOf(id)!)
        const beginning = JSON.stringify(documents())
        for (const [which, field, words] of changes)
          figures.editFigure(['a1', 'a2'][which], (draft) => (draft[field] = words))
        const end = JSON.stringify(documents())
        const { undo, redo } = useUndo(async (_kind, id) => openFigure(id))
        const history = useHistory()
        while (history.canUndo) await undo()
        expect(JSON.stringify(documents())).toBe(beginning)
        while (history.canRedo) await redo()
        expect(JSON.stringify(documents())).toBe(end)
        expect(studies.figures).toHaveLength(2)
      }),
      { numRuns: 25 },
    )
  })
})

describe('every act that is offered', () => {
  /** Opens a study with a figure, and all that offers acts. */
  async function offering() {
    const studies = await opened('a')
    openFigure('a1')
    await settled()
    const options = { shallow: true, global: { stubs: { RouterLink: true } } }
    const mounted = [
      mount(StudySidebar, options),
      mount(Foot, { ...options, props: { zooming: null, tool: 'point' } }),
      mount(StudyBar, options),
    ]
    await settled()
    return { studies, end: () => mounted.forEach((one) => one.unmount()) }
  }

  /** Answers all that waits, as the server would or with a refusal. */
  async function answerAll(isWell: boolean): Promise<void> {
    while (server.sent.length) {
      for (const one of server.sent.splice(0)) {
        if (!isWell) await one.answer({ title: 'Busy.' }, 422)
        else if (one.path.endsWith('/figures')) await one.answer(figure('a9', 'ta'))
        else if (one.path.endsWith('/suggestions'))
          await one.answer({ why: '', pairs: [{ x: 'y', y: 'x' }] })
        else await one.answer({ title: 'Not in this test.' }, 422)
      }
      await settled()
    }
  }

  const CHANGES: Record<string, (keyof FigureDocument)[]> = {
    'Swap the axes': ['x', 'y'],
    'Add a note': ['notes'],
  }

  it.each([true, false])('reaches the open figure alone, answered well: %s', async (isWell) => {
    const { end } = await offering()
    const labels = offered.value.filter(({ why }) => !why).map(({ label }) => label)
    end()
    expect(labels.length).toBeGreaterThan(12)
    for (const label of labels) {
      setActivePinia(createPinia())
      vi.stubGlobal('sessionStorage', kept())
      server = fakeServer()
      const page = await offering()
      const figures = useFigure()
      const before = ['a1', 'a2'].map((id) => copyOf(figures.documentOf(id)!))
      const doing = Promise.resolve(offered.value.find((one) => one.label === label)!.does()).catch(
        (error: unknown) => expect(error).toBeInstanceOf(Problem),
      )
      await settled()
      openFigure('a2')
      await answerAll(isWell)
      await doing
      const [first, second] = ['a1', 'a2'].map((id) => figures.documentOf(id)!)
      const changed = (Object.keys(first) as (keyof FigureDocument)[]).filter(
        (part) => JSON.stringify(first[part]) !== JSON.stringify(before[0][part]),
      )
      expect(changed, label).toEqual(CHANGES[label] ?? [])
      expect(second, label).toEqual(before[1])
      expect(page.studies.study?.id, label).toBe('a')
      const isAdded = ['Add a figure', 'Copy the open figure'].includes(label) && isWell
      expect(page.studies.figures.length, label).toBe(isAdded ? 3 : 2)
      page.end()
    }
  })
})

describe('what an answer rests on', () => {
  const study = (change: Partial<Study>): Study => ({ ...contents('a'), ...change }) as never

  it.each(Object.keys(RESTS_ON) as Answer[])('is a part of its key: %s', async (answer) => {
    const studies = await opened('a')
    const keyOf = useKeys()
    const key = (): string => JSON.stringify(keyOf(answer, 'ta', 'asked'))
    const before = key()
    const grounds: readonly string[] = RESTS_ON[answer]
    studies.tables = [table('ta', 'a', 2), table('ua', 'a')]
    expect(key() !== before).toBe(grounds.includes('data'))
    studies.tables = contents('a').tables as Table[]
    expect(key()).toBe(before)
    studies.study = study({ categories: { g: [] } as never })
    expect(key() !== before).toBe(grounds.includes('categories'))
    studies.study = study({ formulas: [{ name: 'f' }] as never })
    expect(key() !== before).toBe(grounds.includes('formulas'))
    // Another table is another question.
    studies.study = study({})
    studies.tables = [table('ta', 'a'), table('ua', 'a', 5)]
    expect(key()).toBe(before)
    expect(JSON.stringify(keyOf(answer, 'ua', 'asked'))).not.toBe(before)
  })
})
