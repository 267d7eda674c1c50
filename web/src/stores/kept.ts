/** What a study keeps to be used again: filters of rows, looks of figures, and formulas. */
import type { ShallowRef } from 'vue'
import { client } from '@/api/client'
import type { SavedFilter, SavedFormula, SavedLook, Study } from '@/api/types'
import type { useWriting } from './writing'

export function useKept(
  study: ShallowRef<Study | null>,
  write: ReturnType<typeof useWriting>['write'],
) {
  async function saveFilter(saved: SavedFilter): Promise<void> {
    study.value = await write<Study>(() =>
      client.PUT('/api/studies/{study_id}/filters', {
        params: { path: { study_id: study.value!.id } },
        body: saved,
      }),
    )
  }

  async function deleteFilter({ table: tableId, name }: SavedFilter): Promise<void> {
    study.value = await write<Study>(() =>
      client.DELETE('/api/studies/{study_id}/filters/{table_id}/{name}', {
        params: { path: { study_id: study.value!.id, table_id: tableId, name } },
      }),
    )
  }

  async function saveLook(saved: SavedLook): Promise<void> {
    study.value = await write<Study>(() =>
      client.PUT('/api/studies/{study_id}/looks', {
        params: { path: { study_id: study.value!.id } },
        body: saved,
      }),
    )
  }

  async function deleteLook(name: string): Promise<void> {
    study.value = await write<Study>(() =>
      client.DELETE('/api/studies/{study_id}/looks/{name}', {
        params: { path: { study_id: study.value!.id, name } },
      }),
    )
  }

  async function saveFormula(saved: SavedFormula): Promise<void> {
    study.value = await write<Study>(() =>
      client.PUT('/api/studies/{study_id}/formulas', {
        params: { path: { study_id: study.value!.id } },
        body: saved,
      }),
    )
  }

  async function deleteFormula(name: string): Promise<void> {
    study.value = await write<Study>(() =>
      client.DELETE('/api/studies/{study_id}/formulas/{name}', {
        params: { path: { study_id: study.value!.id, name } },
      }),
    )
  }

  return { saveFilter, deleteFilter, saveLook, deleteLook, saveFormula, deleteFormula }
}
