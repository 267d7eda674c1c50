/** The study that is open: its tables and figures. */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { client, finished, Problem, take } from '@/api/client'
import { latest, OVERTAKEN } from '@/latest'
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
  WorthALook,
} from '@/api/types'
import { useHistory } from './history'
import { useKept } from './kept'
import { useWriting } from './writing'

export const useStudy = defineStore('study', () => {
  const history = useHistory()
  const study = shallowRef<Study | null>(null)
  const tables = shallowRef<Table[]>([])
  const figures = shallowRef<Figure[]>([])
  const plates = shallowRef<Plate[]>([])
  const openTable = ref<string | null>(null)
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

  const loading = latest()

  /** Loads a study; false where another was asked for meanwhile. */
  async function load(id: string): Promise<boolean> {
    const contents = await loading.ask((signal) =>
      take<StudyContents>(
        client.GET('/api/studies/{study_id}', { params: { path: { study_id: id } }, signal }),
      ),
    )
    if (contents === OVERTAKEN) return false
    unreadable.value = contents.unreadable ?? []
    study.value = contents
    history.open(id)
    tables.value = contents.tables
    figures.value = contents.figures
    plates.value = contents.plates
    openTable.value = contents.figures[0]?.document.table ?? contents.tables[0]?.id ?? null
    return true
  }

  const create = (name: string) => take<Study>(client.POST('/api/studies', { body: { name } }))

  /** Takes away a study for good that nothing was ever put into. */
  const discard = (id: string) =>
    take(
      client.DELETE('/api/studies/{study_id}', {
        params: { path: { study_id: id }, query: { for_good: true } },
      }),
    )

  /** Pairs of a table that are worth a look, the first first. */
  const suggestions = (tableId: string, signal?: AbortSignal) =>
    take<WorthALook[]>(
      client.GET('/api/tables/{table_id}/suggestions', {
        params: { path: { table_id: tableId } },
        signal,
      }),
    )

  const createDemo = () => take<Study>(client.POST('/api/studies/demo'))

  async function rename(name: string): Promise<void> {
    const id = study.value?.id
    if (!id) return
    study.value = await write<Study>(() =>
      client.PATCH('/api/studies/{study_id}', {
        params: { path: { study_id: id } },
        body: { name },
      }),
    )
  }

  async function addFigure(document: FigureDocument): Promise<Figure> {
    const made = await write<Figure>(() =>
      client.POST('/api/studies/{study_id}/figures', {
        params: { path: { study_id: study.value!.id } },
        body: document,
      }),
    )
    figures.value = [...figures.value, made]
    return made
  }

  async function deleteFigure(id: string, revision?: number): Promise<void> {
    const header = revision === undefined ? undefined : { 'if-match': `"${revision}"` }
    await write(() =>
      client.DELETE('/api/figures/{figure_id}', { params: { path: { figure_id: id }, header } }),
    )
    figures.value = figures.value.filter((figure) => figure.id !== id)
    history.forget('figure', id)
  }

  async function addPlate(document: PlateDocument): Promise<Plate> {
    const made = await write<Plate>(() =>
      client.POST('/api/studies/{study_id}/plates', {
        params: { path: { study_id: study.value!.id } },
        body: document,
      }),
    )
    plates.value = [...plates.value, made]
    return made
  }

  async function deletePlate(id: string): Promise<void> {
    await write(() =>
      client.DELETE('/api/plates/{plate_id}', { params: { path: { plate_id: id } } }),
    )
    plates.value = plates.value.filter((plate) => plate.id !== id)
    history.forget('plate', id)
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
  async function lookAgain(): Promise<void> {
    study.value = await take<Study>(
      client.GET('/api/studies/{study_id}', { params: { path: { study_id: study.value!.id } } }),
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
  const typeTable = (name: string): Promise<TableTaken> =>
    take<TableTaken>(
      client.POST('/api/studies/{study_id}/typed-tables', {
        params: { path: { study_id: study.value!.id } },
        body: {
          name,
          variables: ['x', 'y'].map((v) => ({ name: v, kind: 'number' as const, unit: '' })),
          rows: 5,
        },
      }),
    )

  /** Makes a table from others. */
  const shapeTable = (shape: Shape): Promise<TableTaken> =>
    take<TableTaken>(
      client.POST('/api/studies/{study_id}/shaped-tables', {
        params: { path: { study_id: study.value!.id } },
        body: shape,
      }),
    )

  /** How the categories of a variable are shown; in the order in which the study knows them. */
  const looksOf = (variable: string): CategoryLook[] => study.value?.categories[variable] ?? []

  async function setLooks(variable: string, looks: CategoryLook[], undoing = false): Promise<void> {
    const before = looksOf(variable)
    study.value = await write<Study>(() =>
      client.PUT('/api/studies/{study_id}/categories/{variable}', {
        params: { path: { study_id: study.value!.id, variable } },
        body: { looks },
      }),
    )
    if (!undoing)
      history.record({ kind: 'categories', id: variable, before, after: looksOf(variable) })
  }

  const kept = useKept(study, write)

  /** Takes in a new table, and what the study knows of its categories. */
  async function added({ table: made, figure }: TableTaken): Promise<void> {
    await lookAgain()
    tables.value = [...tables.value, made]
    if (figure) figures.value = [...figures.value, figure]
    openTable.value = made.id
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
    deleteFigure,
    addPlate,
    deletePlate,
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
    ...kept,
    added,
  }
})
