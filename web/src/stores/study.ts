/** The study that is open: its tables and figures. */
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { client, take } from '@/api/client'
import type {
  DerivedIn,
  Figure,
  FigureDocument,
  Kind,
  Study,
  StudyContents,
  Table,
  TableTaken,
  VariableChanged,
  VariableSummary,
} from '@/api/types'

export const useStudy = defineStore('study', () => {
  const study = ref<Study | null>(null)
  const tables = ref<Table[]>([])
  const figures = ref<Figure[]>([])
  const openTable = ref<string | null>(null)

  const table = computed(() => tables.value.find(({ id }) => id === openTable.value) ?? null)

  const tableOf = (id: string): Table | null => tables.value.find((t) => t.id === id) ?? null

  const variableOf = (tableId: string, name: string): VariableSummary | null =>
    tableOf(tableId)?.summary.variables.find((v) => v.name === name) ?? null

  async function load(id: string): Promise<void> {
    const contents = await take<StudyContents>(
      client.GET('/api/studies/{study_id}', { params: { path: { study_id: id } } }),
    )
    study.value = { id: contents.id, name: contents.name, changed: contents.changed }
    tables.value = contents.tables
    figures.value = contents.figures
    openTable.value = contents.figures[0]?.document.table ?? contents.tables[0]?.id ?? null
  }

  const list = () => take<Study[]>(client.GET('/api/studies'))

  const create = (name: string) => take<Study>(client.POST('/api/studies', { body: { name } }))

  const createDemo = () => take<Study>(client.POST('/api/studies/demo'))

  async function rename(name: string): Promise<void> {
    if (!study.value) return
    study.value = await take<Study>(
      client.PATCH('/api/studies/{study_id}', {
        params: { path: { study_id: study.value.id } },
        body: { name },
      }),
    )
  }

  async function addFigure(document: FigureDocument): Promise<Figure> {
    const made = await take<Figure>(
      client.POST('/api/studies/{study_id}/figures', {
        params: { path: { study_id: study.value!.id } },
        body: document,
      }),
    )
    figures.value = [...figures.value, made]
    return made
  }

  async function deleteFigure(id: string): Promise<void> {
    await take(client.DELETE('/api/figures/{figure_id}', { params: { path: { figure_id: id } } }))
    figures.value = figures.value.filter((figure) => figure.id !== id)
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
    const changed = await take<VariableChanged>(
      client.PATCH('/api/tables/{table_id}/variables/{name}', {
        params: { path: { table_id: tableId, name } },
        body: change,
      }),
    )
    replaced(changed.table)
    return changed
  }

  const replaced = (changed: Table): void => {
    tables.value = tables.value.map((t) => (t.id === changed.id ? changed : t))
  }

  /** Adds a variable made from others, or makes a derived one anew. */
  async function derive(tableId: string, wanted: DerivedIn): Promise<void> {
    replaced(
      await take<Table>(
        client.POST('/api/tables/{table_id}/variables', {
          params: { path: { table_id: tableId } },
          body: wanted,
        }),
      ),
    )
  }

  async function deleteVariable(tableId: string, name: string): Promise<void> {
    replaced(
      await take<Table>(
        client.DELETE('/api/tables/{table_id}/variables/{name}', {
          params: { path: { table_id: tableId, name } },
        }),
      ),
    )
  }

  function added({ table: made, figure }: TableTaken): void {
    tables.value = [...tables.value, made]
    if (figure) figures.value = [...figures.value, figure]
    openTable.value = made.id
  }

  return {
    study,
    tables,
    figures,
    openTable,
    table,
    tableOf,
    variableOf,
    load,
    list,
    create,
    createDemo,
    rename,
    addFigure,
    deleteFigure,
    keep,
    changeVariable,
    derive,
    deleteVariable,
    added,
  }
})
