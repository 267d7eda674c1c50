/** A file on its way in: sent, looked at, corrected, taken in; in one state at a time. */
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue'
import { client, finished, Problem, sendFile, take } from '@/api/client'
import type {
  Kind,
  Preview,
  ReadOptions,
  Table,
  TableTaken,
  Upload,
  VariableSummary,
} from '@/api/types'
import { countOf } from '@/figure-model/words'
import { useStudy } from '@/stores/study'

const MEGABYTE = 1_000_000

type State =
  | { is: 'working'; what: string; share: number }
  | { is: 'seen' }
  | { is: 'wrong'; problem: Problem }

interface Told {
  taken: (made: TableTaken) => void
  replaced: (said: string) => void
}

/** @param again the table whose rows it takes the place of; null for a table of its own */
export function useReading(file: File, again: string | null, told: Told) {
  const studies = useStudy()
  const upload = shallowRef<Upload | null>(null)
  const preview = shallowRef<Preview | null>(null)
  /** What goes on and how far it is, what is wrong, or that the file can be looked at. */
  const state = shallowRef<State>({ is: 'working', what: 'Sending the file …', share: 0 })
  const problem = computed(() => (state.value.is === 'wrong' ? state.value.problem : null))
  const work = computed(() => (state.value.is === 'working' ? state.value : null))
  const replaced = computed(() => (again ? studies.tableOf(again) : null))
  const name = ref(replaced.value?.name ?? file.name.replace(/\.[^.]+$/, ''))
  /** Guesses that were corrected by hand; the others may change with them. */
  const corrected = ref<ReadOptions>(asBefore())
  const stop = new AbortController()
  let looking: AbortController | null = null

  function readOf(table: Table): VariableSummary[] {
    return table.summary.variables.filter(({ recipe }) => recipe === null)
  }

  /** A file that is read in again is read as it was, each variable as the kind that it is. */
  function asBefore(): ReadOptions {
    const table = replaced.value
    if (!table) return {}
    return {
      ...table.options,
      sheet: null,
      encoding: null,
      kinds: Object.fromEntries(readOf(table).map(({ name: v, kind }) => [v, kind])),
    }
  }

  /** Variables that a newer file no longer holds, and such as are new. */
  const compared = computed(() => {
    const found = preview.value?.variables.map((v) => v.name)
    if (!replaced.value || !found) return null
    const before = readOf(replaced.value).map((v) => v.name)
    return {
      gone: before.filter((v) => !found.includes(v)),
      new: found.filter((v) => !before.includes(v)),
    }
  })

  async function start(): Promise<void> {
    try {
      const { max_upload_bytes: most } = await take<{ max_upload_bytes: number }>(
        client.GET('/api/limits'),
      )
      if (file.size > most) {
        const [size, limit] = [file.size, most].map((n) => Math.round(n / MEGABYTE))
        throw new Problem(
          413,
          `${file.name} is too large: ${size} MB, and at most ${limit} MB can be read.`,
          'Take out variables or rows that are not needed, or start the server with a larger --max-upload.',
        )
      }
      upload.value = await sendFile(file, listen, stop.signal)
      await look()
    } catch (error) {
      failed(error)
    }
  }

  function listen(share: number): void {
    if (work.value) state.value = { ...work.value, share }
  }

  /** Every correction starts a look of its own and stops the one before. */
  async function look(): Promise<void> {
    looking?.abort()
    const mine = (looking = new AbortController())
    working('Reading the file …')
    try {
      const found = await finished<Preview>(
        client.POST('/api/uploads/{upload_id}/preview', {
          params: { path: { upload_id: upload.value!.id }, header: { prefer: 'respond-async' } },
          body: corrected.value,
        }),
        listen,
        mine.signal,
      )
      if (mine !== looking) return
      preview.value = found
      state.value = { is: 'seen' }
    } catch (error) {
      if (mine === looking) failed(error)
    }
  }

  function working(what: string): void {
    state.value = { is: 'working', what, share: 0 }
  }

  function failed(error: unknown): void {
    if (error instanceof Problem) state.value = { is: 'wrong', problem: error }
    else if (!(error instanceof DOMException)) throw error
  }

  function correct(change: ReadOptions): void {
    corrected.value = { ...corrected.value, ...change }
    void look()
  }

  function setKind(variable: string, kind: Kind): void {
    correct({ kinds: { ...corrected.value.kinds, [variable]: kind } })
  }

  function setMissing(typed: string): void {
    const own = typed.split(/[,\s]+/).filter(Boolean)
    const standard = preview.value?.options.missing ?? []
    correct({ missing: [...new Set([...standard, ...own])].slice(0, 50) })
  }

  const takeOne = (
    options: ReadOptions,
    called: string | null,
    keep: boolean,
  ): Promise<TableTaken> =>
    finished<TableTaken>(
      client.POST('/api/studies/{study_id}/tables', {
        params: { path: { study_id: studies.study!.id }, header: { prefer: 'respond-async' } },
        body: { upload: upload.value!.id, name: called, options, keep },
      }),
      listen,
      stop.signal,
    )

  async function takeIn(): Promise<void> {
    working('Taking it in …')
    try {
      const { id } = upload.value!
      if (again) {
        const made = await studies.readAgain(again, id, corrected.value, listen, stop.signal)
        upload.value = null
        told.replaced(saidOf(made.gone, made.new))
      } else {
        const made = await takeOne(corrected.value, name.value.trim() || null, false)
        upload.value = null
        told.taken(made)
      }
    } catch (error) {
      failed(error)
    }
  }

  const listOf = (names: string[]): string => names.map((one) => `“${one}”`).join(', ')

  function saidOf(gone: string[], fresh: string[]): string {
    const rows = countOf(replaced.value!.summary.rows, 'row')
    const parts = [
      `${name.value} was imported again: ${rows}.`,
      gone.length ? `No longer there: ${listOf(gone)}.` : '',
      fresh.length ? `New: ${listOf(fresh)}.` : '',
    ]
    return parts.filter(Boolean).join(' ')
  }

  /** Each sheet becomes a table of its own; corrections apply to the sheet that is shown. */
  async function takeEvery(): Promise<void> {
    const { sheets, options } = preview.value!
    try {
      const made: TableTaken[] = []
      for (const [i, sheet] of sheets.entries()) {
        working(`Taking ${sheet} in …`)
        const shown = sheet === options.sheet
        const last = i === sheets.length - 1
        made.push(await takeOne(shown ? corrected.value : { sheet }, null, !last))
      }
      upload.value = null
      made.forEach(told.taken)
    } catch (error) {
      failed(error)
    }
  }

  /** Another sheet is another table: what was corrected on the last one says nothing of it. */
  function setSheet(sheet: string): void {
    corrected.value = { sheet }
    name.value = sheet
    void look()
  }

  onBeforeUnmount(() => {
    stop.abort()
    looking?.abort()
    if (upload.value)
      void client.DELETE('/api/uploads/{upload_id}', {
        params: { path: { upload_id: upload.value.id } },
      })
  })
  void start()

  return {
    preview,
    corrected,
    name,
    problem,
    work,
    replaced,
    compared,
    correct,
    setKind,
    setMissing,
    setSheet,
    takeIn,
    takeEvery,
    listOf,
  }
}
