// @vitest-environment happy-dom
/** Every control of a figure, whatever the server does, and whatever is opened meanwhile. */
import fc from 'fast-check'
import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Figure, FigureDocument, StudyContents, Table } from '@/api/types'
import { asked } from '@/figure-model/answer-key'
import { answerParts, fakeServer, settled, type Sent } from '@/testing/server'
import { change, undoKey, type Control } from '@/figure-model/controls/control'
import { all, full, scopeOf, shown, values } from '@/figure-model/controls/testing'
import { useFigure } from './figure'
import { useHistory } from './history'
import { queryClient } from './query-client'
import { useStudy } from './study'
import { kept } from './testing'
import { useUndo } from './undo'

const IDS = ['a1', 'a2'] as const
const TABLE = {
  id: 't',
  study: 'a',
  name: 't',
  version: 1,
  dataset: null,
  summary: { rows: 9, variables: [] },
} as unknown as Table

/** A server that keeps two figures, and answers in an order and a way that the test chooses. */
function keepingServer() {
  const server = fakeServer()
  const figures = new Map(
    IDS.map((id) => [id as string, { id, document: full(), revision: 1 } as unknown as Figure]),
  )

  async function answer(sent: Sent): Promise<void> {
    if (sent.path === '/api/answers') {
      return sent.answer(answerParts({ of: asked(sent.body as FigureDocument) }))
    }
    const known = figures.get(sent.path.split('/').at(-1)!)
    if (!known) return sent.answer({ title: 'There is nothing.' }, 404)
    if (sent.method === 'GET') return sent.answer(known)
    if (sent.over !== `"${known.revision}"`) return sent.answer({ title: 'Changed.' }, 412)
    const saved = { ...known, document: sent.body as FigureDocument, revision: known.revision + 1 }
    figures.set(known.id, saved)
    return sent.answer(saved)
  }

  /** Answers one of those that wait, as it should, or not at all. */
  async function next(which: number, how: How): Promise<void> {
    const [sent] = server.sent.splice(which % Math.max(1, server.sent.length), 1)
    if (!sent) return
    if (how === 'answer') await answer(sent)
    else if (how === 'fail') await sent.fail()
    else if (how === 'lose') {
      // The server has done it, and its answer never comes.
      await answer({ ...sent, answer: async () => undefined })
      await sent.fail()
    } else await sent.answer({ title: how }, how === 'busy' ? 503 : 422)
  }

  /** Answers all that waits, and all that comes of it, until nothing is asked any more. */
  async function calm(): Promise<void> {
    for (let idle = 0; idle < 2;) {
      const [sent] = server.sent.splice(0, 1)
      if (sent) await answer(sent)
      else {
        await vi.advanceTimersByTimeAsync(4000)
        await settled()
      }
      idle = server.sent.length ? 0 : idle + 1
    }
  }
  return { figures, next, calm }
}

type How = 'answer' | 'busy' | 'refuse' | 'fail' | 'lose'

type Step =
  | { do: How; which: number }
  | { do: 'open'; which: number }
  | { do: 'undo' | 'redo' | 'wait' | 'leave and come back' }

const step: fc.Arbitrary<Step> = fc.oneof(
  fc.record({
    do: fc.constantFrom('answer', 'busy', 'refuse', 'fail', 'lose'),
    which: fc.nat(3),
  }) as fc.Arbitrary<Step>,
  fc.record({ do: fc.constant('open' as const), which: fc.nat(1) }),
  fc.record({
    do: fc.constantFrom('undo', 'redo', 'wait', 'leave and come back'),
  }) as fc.Arbitrary<Step>,
)

/** Which parts of two documents differ. */
const differing = (one: FigureDocument | null, other: FigureDocument | null): string[] =>
  Object.keys(full()).filter((part) => {
    const held = (document: FigureDocument | null) =>
      JSON.stringify(document?.[part as keyof FigureDocument])
    return held(one) !== held(other)
  })

const PARTS = [...new Set(all.map(({ part }) => part))]

describe('every control, under late and failing answers', () => {
  beforeEach(() => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'Date'], shouldAdvanceTime: true })
    return () => vi.useRealTimers()
  })

  async function opened() {
    vi.stubGlobal('sessionStorage', kept())
    vi.stubGlobal('localStorage', kept())
    queryClient.clear()
    // Nothing of a run before is left to happen in this one.
    vi.clearAllTimers()
    setActivePinia(createPinia())
    const server = keepingServer()
    const studies = useStudy()
    studies.study = { id: 'a', name: 'A', categories: {}, formulas: [] } as unknown as StudyContents
    useHistory().open('a')
    studies.tables = [TABLE]
    studies.figures = [...server.figures.values()]
    const figures = useFigure()
    const open = (id: string): Promise<void> =>
      figures.open(studies.figures.find((one) => one.id === id)!)
    void open('a1')
    return { server, studies, figures, open, ...useUndo(async (_kind, id) => void open(id)) }
  }

  async function tried(controls: readonly Control[], steps: readonly Step[]): Promise<void> {
    const { server, studies, figures, open, undo, redo } = await opened()
    const history = useHistory()
    const take = async (one: Step): Promise<void> => {
      switch (one.do) {
        case 'open':
          return void open(IDS[one.which])
        case 'undo':
          return void (history.canUndo && (await undo()))
        case 'redo':
          return void (history.canRedo && (await redo()))
        case 'wait':
          return void (await vi.advanceTimersByTimeAsync(400))
        case 'leave and come back':
          figures.leave()
          return void figures.comeBack()
        default:
          return server.next(one.which, one.do)
      }
    }
    let i = 0
    for (const control of controls) {
      const target = figures.id!
      const other = IDS.find((id) => id !== target)!
      const before = figures.documentOf(other)
      const scope = scopeOf(figures.documentOf(target)!)
      const value = values(control, scope).at(-1)
      figures.editFigure(target, change(control, scope, value), undoKey(control))
      // What was tuned was this figure, and nothing else.
      expect(differing(figures.documentOf(other), before)).toEqual([])
      for (const one of steps.slice(i, i + 3)) await take(one)
      i = (i + 3) % Math.max(1, steps.length)
      await settled()
      // What is drawn is the answer to what it says it is.
      const { drawn } = figures
      if (drawn) expect((drawn.answer as unknown as { of: string }).of).toBe(asked(drawn.document))
    }
    // A refusal stays until the document changes; all else comes to rest by itself.
    await server.calm()
    expect([figures.saving, ...figures.conflicts]).not.toContain('outdated')
    expect(figures.conflicts).toEqual([])
    if (figures.saving !== 'refused')
      for (const id of IDS)
        expect(differing(server.figures.get(id)!.document, figures.documentOf(id)), id).toEqual([])
    if (!figures.problem) expect(figures.drawn?.document).toBe(figures.document)
    while (history.canUndo) await undo()
    for (const id of IDS) expect(differing(figures.documentOf(id), full()), id).toEqual([])
    await server.calm()
    expect(studies.figures.map(({ id }) => id)).toEqual([...IDS])
    for (const id of IDS)
      expect(differing(server.figures.get(id)!.document, full()), id).toEqual([])
  }

  it.each(PARTS)(
    'reaches the figure that was tuned: %s',
    async (part) => {
      const controls = all.filter((one) => one.part === part).map(({ control }) => control)
      expect(controls.map(shown).length).toBeGreaterThan(0)
      await fc.assert(
        fc.asyncProperty(fc.array(step, { minLength: 3, maxLength: 24 }), (steps) =>
          tried(controls, steps),
        ),
        { numRuns: Number(process.env.RUNS ?? 2) },
      )
    },
    120_000,
  )
})
