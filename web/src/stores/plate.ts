/** The plate that is open: its document, its figures as they are drawn in it, and saving. */
import { defineStore } from 'pinia'
import { computed, markRaw, ref, shallowRef, watch } from 'vue'
import { askAnswer, client, type Problem, savePlate, take } from '@/api/client'
import type { PlateId } from '@/api/references'
import type { FigureDocument, Plate, PlateDocument } from '@/api/types'
import type { Panel } from '@/plates/panel'
import { NotVaried, variedDocument, variedWords } from '@/plates/variation'
import { lookOf, putOn } from '@/figure-model/looks'
import { literal } from '@/render/text/text'
import { asked } from '@/figure-model/answer-key'
import { copyOf } from '@/lib/copy'
import { useHistory } from './history'
import { latestQuestions } from './query-client'
import { useKeys } from './queries'
import { useSaving } from './saving'
import { useStudy } from './study'

/** How long the answers for its figures are kept, so that a change of looks asks for none. */
const KEPT_FOR = 10 * 60_000

const GONE = 'The figure that stood here was deleted. Choose another on the right.'

export const usePlate = defineStore('plate', () => {
  const studies = useStudy()
  const history = useHistory()
  const id = ref<PlateId | null>(null)
  const document = shallowRef<PlateDocument | null>(null)
  const panels = shallowRef<Panel[]>([])
  /** The cell that is tuned. */
  const chosen = ref<number | null>(null)
  const saver = useSaving<PlateDocument, Plate>(savePlate, studies.keepPlate, 'plate', (plateId) =>
    take<Plate>(client.GET('/api/plates/{plate_id}', { params: { path: { plate_id: plateId } } })),
  )

  const questions = latestQuestions(KEPT_FOR)
  const answerKey = useKeys()

  async function open(plate: Plate): Promise<void> {
    id.value = plate.id
    chosen.value = null
    panels.value = []
    document.value = markRaw(copyOf(saver.begin(plate.id, plate.document, plate.revision)))
    await refresh()
  }

  function close(): void {
    void saver.flush()
    saver.end()
    questions.drop()
    id.value = null
    document.value = null
    panels.value = []
  }

  /** The documents of the cells: the figures, each with its one change, in a common look if wanted. */
  function documents(): { document: FigureDocument | null; problem: string }[] {
    const plate = document.value
    if (!plate) return []
    const sources = plate.cells.map(({ figure }) =>
      studies.figures.find((one) => one.id === figure),
    )
    const first = sources.find((source) => source)
    return plate.cells.map(({ varied }, i) => {
      const source = sources[i]
      if (!source) return { document: null, problem: GONE }
      try {
        const made = variedDocument(source.document, varied)
        if (plate.look === 'common' && first && first !== source)
          putOn(made, copyOf(lookOf(first.document)))
        return { document: made, problem: '' }
      } catch (error) {
        if (!(error instanceof NotVaried)) throw error
        return { document: null, problem: error.message }
      }
    })
  }

  /** Asks for the answers that are not there yet, and draws. */
  async function refresh(): Promise<void> {
    const plate = document.value
    if (!plate) return
    const cells = documents()
    const wanted = cells.flatMap(({ document: one }) => one ?? [])
    const ended = await questions.ask(
      wanted.map((one) => ({
        key: answerKey('answer', one.table, asked(one), null),
        ask: (signal: AbortSignal) => askAnswer(one, { signal }),
      })),
    )
    if (!ended) return
    let next = 0
    panels.value = cells.map(({ document: one, problem }, i): Panel => {
      const heading = headingOf(plate.cells[i], one)
      if (!one) return { figure: null, heading, problem }
      const end = ended[next++]
      return end.status === 'fulfilled'
        ? { figure: markRaw({ document: one, ...end.value }), heading, problem: '' }
        : { figure: null, heading, problem: (end.reason as Problem).sentence }
    })
  }

  function headingOf(cell: PlateDocument['cells'][number], shown: FigureDocument | null): string {
    if (cell.heading !== null) return cell.heading
    const label = (name: string) => (shown && studies.variableOf(shown.table, name)?.label) || name
    const category = (variable: string, value: string) =>
      studies.looksOf(variable).find((look) => look.value === value)?.label || value
    return literal(variedWords(cell.varied, label, category))
  }

  /** Changes the document; `what` names a control whose quick changes are one step of undo. */
  function edit(change: (draft: PlateDocument) => void, what = ''): void {
    const before = document.value
    if (!before) return
    const after = copyOf(before)
    change(after)
    if (JSON.stringify(after) === JSON.stringify(before)) return
    history.record({ kind: 'plate', id: id.value!, before, after }, what)
    set(after)
  }

  /** Gives back what a drag has changed that was cancelled: it was no step. */
  function takeBack(plateId: PlateId, before: PlateDocument): void {
    if (id.value !== plateId) return
    const last = history.last()
    if (last?.kind === 'plate' && last.id === plateId && last.before === before) history.drop()
    set(before)
  }

  function set(next: PlateDocument): void {
    document.value = markRaw(next)
    if (chosen.value !== null && chosen.value >= next.cells.length) chosen.value = null
    saver.changed(next)
    void refresh()
  }

  /** What the plate rests on besides its document. */
  const ground = computed(() =>
    JSON.stringify([
      studies.tables.map(({ id: table, version }) => [table, version]),
      studies.study?.categories,
    ]),
  )
  watch(ground, refresh)
  watch(() => studies.figures, refresh)

  return {
    id,
    document,
    panels,
    chosen,
    saving: saver.state,
    refusal: saver.refusal,
    open,
    close,
    edit,
    takeBack,
    set,
    conflicts: saver.conflicts,
    isAtRisk: saver.isAtRisk,
    comeBack: saver.comeBack,
    refresh,
    leave: saver.leave,
    flush: saver.flush,
    insist: saver.insist,
  }
})
