<script setup lang="ts">
/** How a file is read: every guess, to be corrected. */
import { computed } from 'vue'
import type { Preview, ReadOptions } from '@/api/types'
import UiSelect from '@/ui/UiSelect.vue'
import UiText from '@/ui/UiText.vue'

const props = defineProps<{
  preview: Preview
  corrected: ReadOptions
  /** What the table is to be called; null where it has a name already. */
  name: string | null
}>()
const emit = defineEmits<{
  correct: [change: ReadOptions]
  sheet: [sheet: string]
  missing: [typed: string]
  name: [typed: string]
}>()

const DELIMITERS = [
  { value: ',', label: 'comma' },
  { value: ';', label: 'semicolon' },
  { value: '\t', label: 'tab' },
  { value: '|', label: 'bar' },
]
const THOUSANDS = [
  { value: '', label: 'none' },
  { value: ',', label: 'comma' },
  { value: '.', label: 'point' },
  { value: "'", label: 'apostrophe' },
  { value: ' ', label: 'space' },
]
const DECIMALS = [
  { value: '.', label: 'point' },
  { value: ',', label: 'comma' },
]
const FIRST_IN_DATES = [
  { value: 'day', label: '3 is the day' },
  { value: 'month', label: '3 is the month' },
]
const ENCODINGS = ['utf-8', 'utf-16', 'windows-1252'].map((value) => ({ value, label: value }))

const options = computed(() => props.preview.options)
/** What was typed by hand in a file may be parted by any mark. */
const delimiters = computed(() => {
  const mark = options.value.delimiter ?? ','
  const known = DELIMITERS.some(({ value }) => value === mark)
  return known ? DELIMITERS : [...DELIMITERS, { value: mark, label: `“${mark}”` }]
})
const headers = computed(() => options.value.header ?? 1)
const lines = computed(() => [
  { value: 0, label: 'no line' },
  ...Array.from({ length: Math.max(10, headers.value) }, (_, i) => ({
    value: i + 1,
    label: `line ${i + 1}`,
  })),
])
const dayFirst = computed(() => {
  const said = props.corrected.day_first
  return said === null || said === undefined ? null : said ? 'day' : 'month'
})
</script>

<template>
  <div class="card options">
    <UiText
      v-if="name !== null"
      label="Name of the table"
      :model-value="name"
      :maxlength="200"
      @typed="emit('name', $event)"
    />
    <UiSelect
      v-if="preview.sheets.length > 1"
      label="Sheet"
      :model-value="options.sheet ?? ''"
      :options="preview.sheets.map((value) => ({ value, label: value }))"
      @update:model-value="emit('sheet', $event)"
    />
    <UiSelect
      v-if="options.delimiter"
      label="Separator"
      :model-value="options.delimiter"
      :options="delimiters"
      @update:model-value="emit('correct', { delimiter: $event })"
    />
    <UiSelect
      v-if="options.header !== null"
      label="Header row"
      :model-value="headers"
      :options="lines"
      @update:model-value="emit('correct', { header: $event })"
    />
    <UiSelect
      v-if="options.decimal"
      label="Decimal mark"
      :model-value="options.decimal"
      :options="DECIMALS"
      @update:model-value="emit('correct', { decimal: $event })"
    />
    <UiSelect
      v-if="options.delimiter"
      label="Thousands mark"
      :model-value="options.thousands ?? ''"
      :options="THOUSANDS"
      @update:model-value="emit('correct', { thousands: $event })"
    />
    <UiSelect
      v-if="preview.ambiguous.length || dayFirst"
      label="In 03/04/2031"
      :model-value="dayFirst"
      placeholder="choose day or month"
      :options="FIRST_IN_DATES"
      @update:model-value="emit('correct', { day_first: $event === 'day' })"
    />
    <UiSelect
      v-if="options.encoding"
      label="Encoding"
      :model-value="options.encoding"
      :options="ENCODINGS"
      @update:model-value="emit('correct', { encoding: $event })"
    />
    <UiText
      label="Missing-value codes"
      model-value=""
      placeholder="such as −999"
      @update:model-value="emit('missing', $event)"
    />
  </div>
</template>

<style scoped>
.options {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(128px, 1fr));
  gap: 12px;
}
</style>
