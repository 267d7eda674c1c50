/** What a study keeps to be used again: filters of rows, looks of figures, and formulas. */
import type { ShallowRef } from 'vue'
import { client } from '@/api/client'
import type { StudyId } from '@/api/references'
import type { SavedFilter, SavedFormula, SavedLook, Study } from '@/api/types'
import { useHistory, type Saved } from './history'
import type { useWriting } from './write-queue'

/** Filters of two tables may have the same name. */
const keyOf = ({ of, value }: Saved): string =>
  [of, 'table' in value ? value.table : '', value.name].join(' ')

export function useSavedItems(
  study: ShallowRef<Study | null>,
  openStudy: () => StudyId,
  keepStudy: (said: Study) => void,
  write: ReturnType<typeof useWriting>['write'],
) {
  const history = useHistory()

  const SEND = {
    filter: (id: StudyId, body: SavedFilter) =>
      client.PUT('/api/studies/{study_id}/filters', { params: { path: { study_id: id } }, body }),
    look: (id: StudyId, body: SavedLook) =>
      client.PUT('/api/studies/{study_id}/looks', { params: { path: { study_id: id } }, body }),
    formula: (id: StudyId, body: SavedFormula) =>
      client.PUT('/api/studies/{study_id}/formulas', { params: { path: { study_id: id } }, body }),
  }

  const FORGET = {
    filter: (id: StudyId, { table, name }: SavedFilter) =>
      client.DELETE('/api/studies/{study_id}/filters/{table_id}/{name}', {
        params: { path: { study_id: id, table_id: table, name } },
      }),
    look: (id: StudyId, { name }: SavedLook) =>
      client.DELETE('/api/studies/{study_id}/looks/{name}', {
        params: { path: { study_id: id, name } },
      }),
    formula: (id: StudyId, { name }: SavedFormula) =>
      client.DELETE('/api/studies/{study_id}/formulas/{name}', {
        params: { path: { study_id: id, name } },
      }),
  }

  /** What is kept under the same name; null where nothing is. */
  function known(item: Saved): Saved | null {
    const { filters = [], looks = [], formulas = [] } = study.value ?? {}
    const all: Saved[] = [
      ...filters.map((value) => ({ of: 'filter' as const, value })),
      ...looks.map((value) => ({ of: 'look' as const, value })),
      ...formulas.map((value) => ({ of: 'formula' as const, value })),
    ]
    return all.find((one) => keyOf(one) === keyOf(item)) ?? null
  }

  /** Keeps something under its name; what had the same name is replaced. */
  async function save(item: Saved, undoing = false): Promise<void> {
    const id = openStudy()
    const before = known(item)
    const send = SEND[item.of] as (
      id: StudyId,
      body: Saved['value'],
    ) => ReturnType<typeof SEND.look>
    keepStudy(await write<Study>(() => send(id, item.value)))
    if (!undoing && study.value?.id === id)
      history.record({ kind: 'saved', id: keyOf(item), before, after: item })
  }

  /** Forgets what is kept under a name; figures that use it keep it as their own. */
  async function forgetSaved(item: Saved, undoing = false): Promise<void> {
    const id = openStudy()
    const before = known(item)
    const send = FORGET[item.of] as (
      id: StudyId,
      value: Saved['value'],
    ) => ReturnType<typeof FORGET.look>
    keepStudy(await write<Study>(() => send(id, item.value)))
    if (!undoing && study.value?.id === id && before)
      history.record({ kind: 'saved', id: keyOf(item), before, after: null })
  }

  return { save, forgetSaved }
}
