<script setup lang="ts">
/** A table: its rows, reading it in again, its shape, and handing it on. */
import { ref, useTemplateRef } from 'vue'
import type { Table, TableTaken } from '@/api/types'
import SidePanel from '@/SidePanel.vue'
import { useSide } from '@/stores/side'
import { countOf } from '@/model/words'
import Choice from '@/tuning/Choice.vue'
import ShapeForm from './ShapeForm.vue'

const EXPORTS = [
  { form: 'csv', label: 'CSV' },
  { form: 'parquet', label: 'Parquet' },
  { form: 'package', label: 'data package' },
]
const SHAPES = [
  { value: 'stack', label: 'Stack columns' },
  { value: 'spread', label: 'Spread values' },
  { value: 'join', label: 'Join a table' },
] as const

defineProps<{ table: Table }>()
const emit = defineEmits<{ again: [file: File]; taken: [made: TableTaken] }>()

const side = useSide()
const picker = useTemplateRef('picker')
const shape = ref<'stack' | 'spread' | 'join' | null>(null)

function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  if (input.files?.[0]) emit('again', input.files[0])
  input.value = ''
}
</script>

<template>
  <SidePanel :heading="table.name" :label="`Table ${table.name}`" data-testid="table">
    <p class="quiet">
      {{ countOf(table.summary.rows, 'row') }},
      {{ countOf(table.summary.variables.length, 'variable') }}
    </p>
    <div class="lines">
      <button
        type="button"
        class="choice"
        @click="side.listed = { rows: null, title: `Rows of ${table.name}` }"
      >
        Show and edit the rows
      </button>
      <button type="button" class="choice" @click="picker?.click()">Read in again</button>
      <input
        ref="picker"
        type="file"
        class="out-of-sight"
        tabindex="-1"
        aria-label="File to read in again"
        @change="picked"
      />
      <p class="quiet note">
        The rows of a newer file take the place of these; figures, labels and derived variables
        stay.
      </p>
    </div>
    <div class="lines">
      <Choice
        label="Make another table of it"
        :value="shape"
        :options="SHAPES"
        @set="shape = shape === $event ? null : $event"
      />
      <ShapeForm
        v-if="shape"
        :key="shape"
        :shape="shape"
        :table="table"
        @taken="(made) => emit('taken', made)"
      />
    </div>
    <div class="lines">
      <h3 class="lines__head">Export</h3>
      <p class="exports">
        <a
          v-for="{ form, label } in EXPORTS"
          :key="form"
          class="link"
          :href="`/api/tables/${table.id}/export?format=${form}`"
          download
          >{{ label }}</a
        >
      </p>
    </div>
  </SidePanel>
</template>

<style scoped>
.lines {
  display: grid;
  gap: 6px;
}

.lines__head {
  font-size: 14px;
  font-weight: 600;
}

.note {
  font-size: 13.5px;
  line-height: 1.3;
}

.exports {
  display: flex;
  gap: 12px;
}

.exports a {
  text-decoration: none;
}
</style>
