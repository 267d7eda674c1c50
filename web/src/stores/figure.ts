/**
 * The figure that is open: its document, the answer to it, and saving.
 *
 * What is drawn is always a document together with the answer to it. A change of looks is drawn at
 * once; a change of what is asked for is drawn when its answer is there.
 */
import { copyOf } from '@/lib/copy'
import { defineStore } from 'pinia'
import { computed, markRaw, ref, shallowRef, watch } from 'vue'
import { askAnswer, client, Problem, saveFigure, take, type SeenEnds } from '@/api/client'
import type { FigureId } from '@/api/references'
import type { Figure, FigureDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { asked } from '@/figure-model/answer-key'
import { whyByParts } from '@/figure-model/words'
import { useHistory } from './history'
import { latestQuestions } from './query-client'
import { useKeys } from './queries'
import { useSaving } from './saving'
import { useSide } from './side'
import { useStudy } from './study'

const STOPPED = new Problem(
  0,
  'Stopped before it was worked out.',
  'What is drawn is from before the change; undo takes the change back.',
)

export const useFigure = defineStore('figure', () => {
  const studies = useStudy()
  const side = useSide()
  const history = useHistory()
  const id = ref<FigureId | null>(null)
  const document = shallowRef<FigureDocument | null>(null)
  const drawn = shallowRef<RenderedFigure | null>(null)
  const problem = ref<Problem | null>(null)
  const waiting = ref(false)
  /** Whether what is drawn is not yet what the document says. */
  const isBusy = computed(() => !problem.value && drawn.value?.document !== document.value)
  /** How much of what is waited for is done, once that is known. */
  const done = ref<number | null>(null)
  const saver = useSaving<FigureDocument, Figure>(saveFigure, studies.keep, 'figure', (figureId) =>
    take<Figure>(
      client.GET('/api/figures/{figure_id}', { params: { path: { figure_id: figureId } } }),
    ),
  )

  const answers = latestQuestions()
  const answerKey = useKeys()
  let answered = ''

  /** Why what needs all rows is off; empty where they are together. */
  const needsRows = computed(() =>
    document.value ? whyByParts(studies.tableOf(document.value.table)) : '',
  )

  /** What an answer rests on besides the document. */
  const ground = computed(() =>
    document.value ? JSON.stringify(answerKey('answer', document.value.table)) : '',
  )
  /** What is in view of a figure of a dataset, whose rows are asked for as one comes closer. */
  let seen: SeenEnds | null = null
  /** Whether what is drawn holds only what is in view. */
  const isPart = ref(false)
  const keyOf = (wanted: FigureDocument) => answerKey('answer', wanted.table, asked(wanted), seen)
  watch(ground, (now, before) => {
    if (drawn.value && before !== now && drawn.value.document.table === document.value?.table)
      void askAgain()
  })

  /** Where it stands among the figures of the study, from 1. */
  const place = (): number => studies.figures.findIndex((one) => one.id === id.value) + 1

  async function open(figure: Figure): Promise<void> {
    answers.drop()
    id.value = figure.id
    // What was changed here and could not be saved yet is still what the figure is.
    document.value = markRaw(copyOf(saver.begin(figure.id, figure.document, figure.revision)))
    drawn.value = null
    answered = ''
    seen = null
    isPart.value = false
    problem.value = null
    if (side.shown.kind !== 'selection') side.rest()
    studies.openTable = figure.document.table
    await refresh()
  }

  function close(): void {
    void saver.flush()
    saver.end()
    answers.drop()
    id.value = null
    document.value = null
    drawn.value = null
    problem.value = null
  }

  /** Asks again although the document is the same: the table behind it has changed. */
  async function askAgain(): Promise<void> {
    answered = ''
    await refresh()
  }

  /** Looks at a part of the figure, or at all of it: of a dataset that part is asked for. */
  function lookAt(view: SeenEnds | null): void {
    if (!needsRows.value || JSON.stringify(view) === JSON.stringify(seen)) return
    // Only where cells, or rows from near, depend on the view is there anything to be asked.
    if (!drawn.value?.answer.cells && !isPart.value) return
    seen = view
    void refresh()
  }

  /** Draws all of the figure: what is handed on is not what was looked at closely. */
  async function whole(): Promise<void> {
    if (seen === null && !isPart.value) return
    seen = null
    await refresh()
  }

  /** Leaves off working out what takes too long; the picture stays the one before. */
  function stop(): void {
    answers.drop()
    problem.value = STOPPED
  }

  /** Draws the document: at once where only looks changed, else when the answer is there. */
  async function refresh(): Promise<void> {
    const wanted = document.value
    if (!wanted) return
    const key = keyOf(wanted)
    const asksFor = JSON.stringify(key)
    if (drawn.value && asksFor === answered) {
      // What was asked for meanwhile is not wanted any more, nor what was wrong with it.
      answers.drop()
      problem.value = null
      drawn.value = markRaw({ ...drawn.value, document: wanted })
      return
    }
    const slow = setTimeout(() => (waiting.value = true), 150)
    try {
      const found = await answers.askOne({
        key,
        ask(signal) {
          done.value = null
          const listen = (share: number): void => void (signal.aborted || (done.value = share))
          return askAnswer(wanted, { seen, signal, listen })
        },
      })
      if (!found) return
      const { answer, marks } = found
      // Looks may have changed while the answer was on its way.
      const newest = document.value ?? wanted
      const current = JSON.stringify(keyOf(newest)) === asksFor ? newest : wanted
      answered = asksFor
      drawn.value = markRaw({ document: current, answer, marks, number: place() })
      isPart.value = seen !== null
      problem.value = null
      // The table was changed while its first answer was on its way.
      if (current !== newest) await refresh()
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      problem.value = error
    } finally {
      clearTimeout(slow)
      if (!answers.isOpen()) waiting.value = false
    }
  }

  /** A figure as it is here, whether it is open, saved or not; null where it is not in the study. */
  function documentOf(figureId: FigureId): FigureDocument | null {
    if (id.value === figureId) return document.value
    const saved = studies.figures.find((one) => one.id === figureId)
    return saved ? (saver.unsaved(figureId) ?? saved.document) : null
  }

  /**
   * Changes a figure, whether it is the one that is open or not.
   *
   * @param figureId where it is no more in the study, nothing is changed
   * @param change edits a copy
   * @param what names a control whose changes in quick succession are one step of undo
   */
  function editFigure(
    figureId: FigureId,
    change: (draft: FigureDocument) => unknown,
    what = '',
  ): void {
    const before = documentOf(figureId)
    if (!before) return
    const draft = copyOf(before)
    change(draft)
    if (JSON.stringify(draft) === JSON.stringify(before)) return
    const after = copyOf(draft)
    history.record({ kind: 'figure', id: figureId, before, after }, what)
    putFigure(figureId, after)
  }

  /** Puts a document in the place of a figure's, and saves it; it is no step of its own. */
  function putFigure(figureId: FigureId, after: FigureDocument): void {
    if (id.value === figureId) return set(after)
    const saved = studies.figures.find((one) => one.id === figureId)
    if (!saved) return
    saver.changeOther(figureId, saved.document, saved.revision, markRaw(after))
    studies.keep({ ...saved, document: after })
  }

  /** Changes the figure that is open now: for what a hand does to what it sees. */
  function edit(change: (draft: FigureDocument) => unknown, what = ''): void {
    if (id.value) editFigure(id.value, change, what)
  }

  /** Gives back what a drag has changed that was cancelled: it was no step. */
  function takeBack(figureId: FigureId, before: FigureDocument): void {
    if (id.value !== figureId) return
    const last = history.last()
    if (last?.kind === 'figure' && last.id === figureId && last.before === before) history.drop()
    set(before)
  }

  /** Puts a document in the place of the one that is open, and saves it. */
  function set(next: FigureDocument): void {
    document.value = markRaw(next)
    saver.changed(document.value)
    void refresh()
  }

  /** Someone else saved first: take theirs, or put ours over it. */
  async function settle(keepOurs: boolean, theirs: Figure): Promise<void> {
    if (keepOurs) {
      await saver.insist(theirs.revision)
    } else {
      history.forget('figure', theirs.id)
      studies.keep(theirs)
      saver.forget(theirs.id)
      await open(theirs)
    }
  }

  return {
    id,
    document,
    drawn,
    isPart,
    needsRows,
    problem,
    waiting,
    isBusy,
    done,
    saving: saver.state,
    refusal: saver.refusal,
    open,
    close,
    refresh,
    stop,
    askAgain,
    lookAt,
    whole,
    edit,
    editFigure,
    putFigure,
    documentOf,
    takeBack,
    set,
    conflicts: saver.conflicts,
    isAtRisk: saver.isAtRisk,
    flush: saver.flush,
    leave: saver.leave,
    comeBack: saver.comeBack,
    settle,
  }
})
