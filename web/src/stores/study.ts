/** The study that is open: its tables and figures. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { client, finished, Problem, take } from '@/api/client'
import type { StudyId, TableId } from '@/api/references'
import type {
  CategoryLook,
  DerivedIn,
  Figure,
  FigureDocument,
  Kind,
  Plate,
  PlateDocument,
  ReadOptions,
  RowsEdit,
  Shape,
  Study,
  StudyContents,
  Table,
  TableReplaced,
  TableTaken,
  VariableChanged,
  VariableSummary,
  Suggestions,
} from '@/api/types'
import { useHistory } from './history'
import { latestQuestions } from './query-client'
import { forgetPictures } from './thumbnail-cache'
import { useSavedItems } from './saved-items'
import { useWriting } from './write-queue'

export const useStudy = defineStore('study', () => {
  const history = useHistory()
  const study = shallowRef<Study | null>(null)
  const tables = shallowRef<Table[]>([])
  const figures = shallowRef<Figure[]>([])
  const plates = shallowRef<Plate[]>([])
  const openTable = ref<TableId | null>(null)
  /** Figures and plates whose documents cannot be read. */
  const unreadable = ref<NonNullable<StudyContents['unreadable']>>([])
  const { writing, write, settled } = useWriting()

  /** The version of a table that is known here; changes of another are refused (RFC 9110). */
  const over = (tableId: string) => ({ 'if-match': `"${tableOf(tableId)?.version ?? 0}"` })

  /** Changes a table; one that was changed elsewhere meanwhile is loaded as it now is. */
  async function writeTable<T>(
    tableId: string,
    send: () => Parameters<typeof take<T>>[0],
    keepAnswer: (made: T) => void,
  ): Promise<T> {
    try {
      return await write<T>(send, keepAnswer)
    } catch (error) {
      if (error instanceof Problem && error.status === 412) await reload(tableId)
      throw error
    }
  }

  /** Takes in a table as others have left it: steps of undo that led elsewhere are no more. */
  async function reload(tableId: string): Promise<void> {
    history.forget('table', tableId)
    shown(
      await take<Table>(
        client.GET('/api/tables/{table_id}', { params: { path: { table_id: tableId } } }),
      ),
    )
  }

  const table = computed(() => tables.value.find(({ id }) => id === openTable.value) ?? null)

  const tableOf = (id: string): Table | null => tables.value.find((t) => t.id === id) ?? null

  const variableOf = (tableId: string, name: string): VariableSummary | null =>
    tableOf(tableId)?.summary.variables.find((v) => v.name === name) ?? null

  const loading = latestQuestions()

  /** Forgets the study that was open. */
  function clear(): void {
    study.value = null
    tables.value = []
    figures.value = []
    plates.value = []
    unreadable.value = []
    openTable.value = null
  }

  /** Loads a study; false where another was asked for meanwhile. */
  async function load(id: StudyId): Promise<boolean> {
    // What is on its way is not the study before it: nothing of that can be acted on any more.
    if (study.value?.id !== id) clear()
    const contents = await loading.askOne({
      key: ['study', id],
      ask: (signal) =>
        take<StudyContents>(
          client.GET('/api/studies/{study_id}', { params: { path: { study_id: id } }, signal }),
        ),
    })
    if (!contents) return false
    unreadable.value = contents.unreadable ?? []
    study.value = contents
    history.open(id)
    tables.value = contents.tables
    figures.value = contents.figures
    plates.value = contents.plates
    openTable.value = contents.figures[0]?.document.table ?? contents.tables[0]?.id ?? null
    return true
  }

  /** The study that is open, to which an act belongs from its beginning on. */
  function openStudy(): StudyId {
    if (!study.value) throw new Problem(0, 'No study is open.')
    return study.value.id
  }

  const isOpen = (id: StudyId): boolean => study.value?.id === id

  /** Keeps what the server says of a study, where it is still the one that is open. */
  function keepStudy(said: Study): void {
    if (isOpen(said.id)) study.value = said
  }

  const create = (name: string) => take<Study>(client.POST('/api/studies', { body: { name } }))

  /** Takes away a study for good that nothing was ever put into. */
  const discard = (id: string) =>
    take(
      client.DELETE('/api/studies/{study_id}', {
        params: { path: { study_id: id }, query: { for_good: true } },
      }),
    )

  /** Why a table starts with its figure, and pairs that are worth a look. */
  const suggestions = (tableId: string, signal?: AbortSignal) =>
    take<Suggestions>(
      client.GET('/api/tables/{table_id}/suggestions', {
        params: { path: { table_id: tableId } },
        signal,
      }),
    )

  const createDemo = () => take<Study>(client.POST('/api/studies/demo'))

  async function rename(name: string, undoing = false): Promise<void> {
    const id = openStudy()
    const before = study.value!.name
    keepStudy(
      await write<Study>(() =>
        client.PATCH('/api/studies/{study_id}', {
          params: { path: { study_id: id } },
          body: { name },
        }),
      ),
    )
    if (!undoing && isOpen(id)) history.record({ kind: 'name', id, before, after: name })
  }

  /** Adds a figure to the study that is open; it stays there where another is opened meanwhile. */
  async function addFigure(document: FigureDocument): Promise<Figure> {
    const id = openStudy()
    const made = await write<Figure>(() =>
      client.POST('/api/studies/{study_id}/figures', {
        params: { path: { study_id: id } },
        body: document,
      }),
    )
    if (isOpen(id)) {
      figures.value = [...figures.value, made]
      recordThere('figure', made.id, true)
    }
    return made
  }

  async function addPlate(document: PlateDocument): Promise<Plate> {
    const id = openStudy()
    const made = await write<Plate>(() =>
      client.POST('/api/studies/{study_id}/plates', {
        params: { path: { study_id: id } },
        body: document,
      }),
    )
    if (isOpen(id)) {
      plates.value = [...plates.value, made]
      recordThere('plate', made.id, true)
    }
    return made
  }

  type Part = 'figure' | 'plate' | 'table'

  const recordThere = (of: Part, id: string, after: boolean, figure?: string): void =>
    history.record({ kind: 'there', of, id, before: !after, after, figure })

  const DELETE = {
    figure: (id: string, header?: { 'if-match': string }) =>
      client.DELETE('/api/figures/{figure_id}', { params: { path: { figure_id: id }, header } }),
    plate: (id: string) =>
      client.DELETE('/api/plates/{plate_id}', { params: { path: { plate_id: id } } }),
    table: (id: string) =>
      client.DELETE('/api/tables/{table_id}', { params: { path: { table_id: id } } }),
  }

  /**
   * Deletes a figure, a plate or a table: a step like any other, which undo takes back.
   *
   * @param revision of a figure, where only that is meant
   */
  async function remove(of: Part, id: string, revision?: number, undoing = false): Promise<void> {
    const opened = openStudy()
    const header = revision === undefined ? undefined : { 'if-match': `"${revision}"` }
    await write(() => DELETE[of](id, header))
    if (!isOpen(opened)) return
    const others = <T extends { id: string }>(all: T[]): T[] => all.filter((one) => one.id !== id)
    if (of === 'figure') figures.value = others(figures.value)
    else if (of === 'plate') plates.value = others(plates.value)
    else {
      tables.value = others(tables.value)
      if (openTable.value === id) openTable.value = tables.value[0]?.id ?? null
    }
    forgetPictures()
    if (!undoing) recordThere(of, id, false)
  }

  /** Brings back what was deleted, to its place. */
  async function giveBack(of: Part, id: string): Promise<void> {
    const opened = openStudy()
    if (of === 'figure')
      await write(() =>
        client.POST('/api/figures/{figure_id}/return', { params: { path: { figure_id: id } } }),
      )
    else if (of === 'plate')
      await write(() =>
        client.POST('/api/plates/{plate_id}/return', { params: { path: { plate_id: id } } }),
      )
    else
      await write(() =>
        client.POST('/api/tables/{table_id}/return', { params: { path: { table_id: id } } }),
      )
    const contents = await take<StudyContents>(
      client.GET('/api/studies/{study_id}', { params: { path: { study_id: opened } } }),
    )
    if (!isOpen(opened)) return
    tables.value = contents.tables
    figures.value = contents.figures
    plates.value = contents.plates
    openTable.value ??= tables.value[0]?.id ?? null
  }

  /** Keeps what the server said of a plate that was saved. */
  function keepPlate(saved: Plate): void {
    plates.value = plates.value.map((plate) => (plate.id === saved.id ? saved : plate))
  }

  /** Keeps what the server said of a figure that was saved. */
  function keep(saved: Figure): void {
    figures.value = figures.value.map((figure) => (figure.id === saved.id ? saved : figure))
  }

  /** Changes a label, a unit or a kind; says which values cannot be read as the new kind. */
  async function changeVariable(
    tableId: string,
    name: string,
    change: { label?: string; unit?: string; kind?: Kind },
  ): Promise<VariableChanged> {
    return writeTable<VariableChanged>(
      tableId,
      () =>
        client.PATCH('/api/tables/{table_id}/variables/{name}', {
          params: { path: { table_id: tableId, name }, header: over(tableId) },
          body: change,
        }),
      (changed) => replaced(changed.table),
    )
  }

  /** Takes in what the server made of a table; a change of it is a step that can be undone. */
  function replaced(changed: Table): void {
    const before = tableOf(changed.id)?.version
    if (before !== undefined && before !== changed.version)
      history.record({ kind: 'table', id: changed.id, before, after: changed.version })
    shown(changed)
  }

  function shown(table: Table): void {
    tables.value = tables.value.map((t) => (t.id === table.id ? table : t))
    const unknown = table.summary.variables.some(({ name, counts }) => {
      const known = new Set(looksOf(name).map(({ value }) => value))
      return Object.keys(counts ?? {}).some((value) => !known.has(value))
    })
    if (unknown) void lookAgain()
  }

  /** Learns what the study knows of categories that have come to it. */
  async function lookAgain(id = openStudy()): Promise<void> {
    keepStudy(
      await take<Study>(
        client.GET('/api/studies/{study_id}', { params: { path: { study_id: id } } }),
      ),
    )
  }

  /** Makes a table what it was at one of its versions, in the place of the one that is known here. */
  async function restoreVersion(tableId: string, version: number, of: number): Promise<void> {
    await writeTable<Table>(
      tableId,
      () =>
        client.PUT('/api/tables/{table_id}/version', {
          // Only where what is taken back is still what holds: nobody else's change goes with it.
          params: { path: { table_id: tableId }, header: { 'if-match': `"${of}"` } },
          body: { version },
        }),
      shown,
    )
  }

  /** Changes a table that is answered as it is then. */
  async function changeTable(
    tableId: string,
    send: () => Parameters<typeof take<Table>>[0],
  ): Promise<void> {
    await writeTable<Table>(tableId, send, replaced)
  }

  /** Adds a variable made from others, or makes a derived one anew. */
  async function derive(tableId: string, wanted: DerivedIn): Promise<void> {
    await changeTable(tableId, () =>
      client.POST('/api/tables/{table_id}/variables', {
        params: { path: { table_id: tableId }, header: over(tableId) },
        body: wanted,
      }),
    )
  }

  /** Adds a variable without values. */
  async function addVariable(tableId: string, name: string): Promise<void> {
    await changeTable(tableId, () =>
      client.PUT('/api/tables/{table_id}/variables/{name}', {
        params: { path: { table_id: tableId, name }, header: over(tableId) },
        body: { name, kind: 'number', unit: '' },
      }),
    )
  }

  /** Tells rows that were chosen from all others, by a variable of two categories. */
  async function keepRows(tableId: string, name: string, chosen: number[]): Promise<void> {
    await changeTable(tableId, () =>
      client.PUT('/api/tables/{table_id}/variables/{name}', {
        params: { path: { table_id: tableId, name }, header: over(tableId) },
        body: { name, kind: 'category', unit: '', chosen },
      }),
    )
  }

  async function deleteVariable(tableId: string, name: string): Promise<void> {
    await changeTable(tableId, () =>
      client.DELETE('/api/tables/{table_id}/variables/{name}', {
        params: { path: { table_id: tableId, name }, header: over(tableId) },
      }),
    )
  }

  /** Writes values, adds and deletes rows, or pastes a block. */
  async function editRows(tableId: string, edit: RowsEdit): Promise<void> {
    await changeTable(tableId, () =>
      client.PATCH('/api/tables/{table_id}/rows', {
        params: { path: { table_id: tableId }, header: over(tableId) },
        body: edit,
      }),
    )
  }

  /** Puts the rows of a file that was sent in the place of a table's. */
  async function readAgain(
    tableId: string,
    upload: string,
    options: ReadOptions,
    listen: (share: number) => void,
    signal: AbortSignal,
  ): Promise<TableReplaced> {
    const made = await finished<TableReplaced>(
      client.PUT('/api/tables/{table_id}/rows', {
        params: {
          path: { table_id: tableId },
          header: { prefer: 'respond-async', ...over(tableId) },
        },
        body: { upload, options },
      }),
      listen,
      signal,
    )
    replaced(made.table)
    return made
  }

  /** Makes a table to be typed into. */
  const typeTable = async (name: string): Promise<TableTaken> =>
    take<TableTaken>(
      client.POST('/api/studies/{study_id}/typed-tables', {
        params: { path: { study_id: openStudy() } },
        body: {
          name,
          variables: ['x', 'y'].map((v) => ({ name: v, kind: 'number' as const, unit: '' })),
          rows: 5,
        },
      }),
    )

  /** Makes a table from others. */
  const shapeTable = async (shape: Shape): Promise<TableTaken> =>
    take<TableTaken>(
      client.POST('/api/studies/{study_id}/shaped-tables', {
        params: { path: { study_id: openStudy() } },
        body: shape,
      }),
    )

  /** How the categories of a variable are shown; in the order in which the study knows them. */
  const looksOf = (variable: string): CategoryLook[] => study.value?.categories[variable] ?? []

  async function setLooks(variable: string, looks: CategoryLook[], undoing = false): Promise<void> {
    const id = openStudy()
    const before = looksOf(variable)
    keepStudy(
      await write<Study>(() =>
        client.PUT('/api/studies/{study_id}/categories/{variable}', {
          params: { path: { study_id: id, variable } },
          body: { looks },
        }),
      ),
    )
    if (!undoing && isOpen(id))
      history.record({ kind: 'categories', id: variable, before, after: looksOf(variable) })
  }

  const saved = useSavedItems(study, openStudy, keepStudy, write)

  /** Takes in a new table, and what the study knows of its categories; false where it is not open. */
  async function added({ table: made, figure }: TableTaken): Promise<boolean> {
    if (!isOpen(made.study)) return false
    await lookAgain(made.study)
    if (!isOpen(made.study)) return false
    const isNew = !tableOf(made.id)
    tables.value = isNew
      ? [...tables.value, made]
      : tables.value.map((one) => (one.id === made.id ? made : one))
    if (figure && !figures.value.some(({ id }) => id === figure.id))
      figures.value = [...figures.value, figure]
    openTable.value = made.id
    if (isNew) recordThere('table', made.id, true, figure?.id)
    return true
  }

  return {
    study,
    tables,
    figures,
    plates,
    openTable,
    unreadable,
    writing,
    settled,
    table,
    tableOf,
    variableOf,
    load,
    create,
    createDemo,
    discard,
    suggestions,
    rename,
    addFigure,
    addPlate,
    remove,
    giveBack,
    clear,
    keepPlate,
    keep,
    changeVariable,
    restoreVersion,
    derive,
    addVariable,
    keepRows,
    deleteVariable,
    editRows,
    readAgain,
    typeTable,
    shapeTable,
    looksOf,
    setLooks,
    ...saved,
    added,
  }
})
