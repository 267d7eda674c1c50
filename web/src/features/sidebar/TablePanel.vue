<script setup lang="ts">
/** A table: its rows, reading it in again, its shape, and handing it on. */
import { ref } from 'vue'
import type { Table, TableTaken } from '@/api/types'
import { Problem } from '@/api/client'
import SidePanel from '@/components/SidePanel.vue'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiField from '@/ui/UiField.vue'
import UiFile from '@/ui/UiFile.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import ShapeForm from './ShapeForm.vue'

const EXPORTS = [
  { form: 'csv', label: 'CSV' },
  { form: 'parquet', label: 'Parquet' },
  { form: 'package', label: 'data package' },
]
const SHAPES = [
  { value: 'stack', label: 'Wide to long' },
  { value: 'spread', label: 'Long to wide' },
  { value: 'join', label: 'Join a table' },
] as const

const props = defineProps<{ table: Table }>()
const emit = defineEmits<{ again: [file: File]; taken: [made: TableTaken] }>()

const side = useSide()
const studies = useStudy()
const deleting = ref(false)
const problem = ref('')

/** A table that figures show stays, and which ones show it is said; undo brings it back. */
async function remove(): Promise<void> {
  deleting.value = true
  problem.value = ''
  try {
    await studies.remove('table', props.table.id)
    side.rest()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  } finally {
    deleting.value = false
  }
}
const shape = ref<'stack' | 'spread' | 'join' | null>(null)
</script>

<template>
  <SidePanel :heading="table.name" :label="`Table ${table.name}`" data-testid="table">
    <UiNote>
      {{ countOf(table.summary.rows, 'row') }},
      {{ countOf(table.summary.variables.length, 'variable') }}
    </UiNote>
    <template v-if="table.dataset">
      <UiNote>
        A dataset: its rows stay in {{ table.dataset }} and are read in chunks. Open it again from
        the panel on the left where its files have changed.
      </UiNote>
      <UiAction
        @click="side.listed = { table: table.id, rows: null, title: `Rows of ${table.name}` }"
      >
        Show the rows
      </UiAction>
    </template>
    <template v-else>
      <UiAction
        @click="side.listed = { table: table.id, rows: null, title: `Rows of ${table.name}` }"
      >
        Show and edit the rows
      </UiAction>
      <UiFile
        action="Import again"
        label="File to import again"
        @picked="(file) => emit('again', file)"
      />
      <UiNote>
        The rows of a newer file take the place of these; figures, labels and derived variables
        stay.
      </UiNote>
      <UiChoice
        label="Reshape or join"
        :model-value="shape"
        :options="SHAPES"
        @update:model-value="shape = shape === $event ? null : $event"
      />
      <ShapeForm
        v-if="shape"
        :key="shape"
        :shape="shape"
        :table="table"
        @taken="(made) => emit('taken', made)"
      />
      <UiField label="Export" role="group" aria-label="Export">
        <UiRow>
          <UiAction
            v-for="{ form, label } in EXPORTS"
            :key="form"
            kind="words"
            :href="`/api/tables/${table.id}/export?format=${form}`"
            download
          >
            {{ label }}
          </UiAction>
        </UiRow>
      </UiField>
    </template>
    <UiAction kind="caution" :busy="deleting" @click="remove">Delete this table</UiAction>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
  </SidePanel>
</template>
