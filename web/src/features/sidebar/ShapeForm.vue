<script setup lang="ts">
/** Another table made from one: columns stacked, values spread, rows joined. */
import { computed, ref, watch } from 'vue'
import { Problem } from '@/api/client'
import type { Shape, Table, TableTaken } from '@/api/types'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiCheck from '@/ui/UiCheck.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiVariable from '@/ui/UiVariable.vue'
import UiText from '@/ui/UiText.vue'

const props = defineProps<{ shape: Shape['shape']; table: Table }>()
const emit = defineEmits<{ taken: [made: TableTaken] }>()

const WHAT = {
  stack: 'Columns that each hold one group become two variables: which column, and its value.',
  spread: 'Two variables, which group and its value, become a column for each group.',
  join: 'Variables of another table are put beside the rows that agree in a shared variable.',
}

const studies = useStudy()
const problem = ref('')
const busy = ref(false)
const variables = computed(() => props.table.summary.variables)
const kindOf = (name: string) => variables.value.find((v) => v.name === name)?.kind

const columns = ref<string[]>([])
const name = ref('name')
const value = ref('value')
const words = variables.value.find(({ kind }) => kind === 'category') ?? variables.value[0]
const numbers = variables.value.findLast(({ kind }) => kind === 'number') ?? variables.value.at(-1)!
/** Names such as wk1 and wk2, which can be taken as the numbers 1 and 2. */
const areNumbered = computed(
  () =>
    columns.value.length > 1 && columns.value.every((column) => /^\D*\d+(\.\d+)?$/.test(column)),
)
const byNumber = ref(true)
const spreadBy = ref(words.name)
const spreadOf = ref(numbers.name)
const others = computed(() => studies.tables.filter(({ id }) => id !== props.table.id))
const other = ref(others.value[0]?.id ?? '')
const theirs = computed(() => studies.tableOf(other.value)?.summary.variables ?? [])
const shared = computed(
  () => variables.value.find((v) => theirs.value.some((t) => t.name === v.name))?.name,
)
const on = ref(shared.value ?? words.name)
const otherOn = ref(shared.value ?? theirs.value[0]?.name ?? '')
const keepAll = ref(true)
watch(other, () => (otherOn.value = shared.value ?? theirs.value[0]?.name ?? ''))

/** Columns of one kind only can be stacked: the first one chosen says which. */
const stackable = computed(() =>
  variables.value.filter((v) => !columns.value.length || v.kind === kindOf(columns.value[0])),
)
const ready = computed(() =>
  props.shape === 'stack'
    ? columns.value.length > 1
    : props.shape === 'spread'
      ? spreadBy.value !== spreadOf.value
      : otherOn.value !== '',
)

function toggle(column: string): void {
  columns.value = columns.value.includes(column)
    ? columns.value.filter((c) => c !== column)
    : [...columns.value, column]
}

function wanted(): Shape {
  const table = props.table.id
  if (props.shape === 'stack')
    return {
      shape: 'stack',
      table,
      variables: columns.value,
      name: name.value.trim() || 'name',
      value: value.value.trim() || 'value',
      numbered: areNumbered.value && byNumber.value,
    }
  if (props.shape === 'spread')
    return { shape: 'spread', table, name: spreadBy.value, value: spreadOf.value }
  return {
    shape: 'join',
    table,
    on: on.value,
    other: other.value,
    other_on: otherOn.value,
    keep_all: keepAll.value,
  }
}

async function make(): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    emit('taken', await studies.shapeTable(wanted()))
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  } finally {
    busy.value = false
  }
}
const optionsOf = (all: readonly { name: string; label: string }[]) =>
  all.map(({ name: value, label }) => ({ value, label }))
</script>

<template>
  <form class="ui-list" aria-label="Shape" @submit.prevent="make">
    <UiNote>{{ WHAT[shape] }}</UiNote>
    <template v-if="shape === 'stack'">
      <UiRow label="Columns to stack">
        <UiAction
          v-for="v in stackable"
          :key="v.name"
          :pressed="columns.includes(v.name)"
          @click="toggle(v.name)"
        >
          {{ v.label }}
        </UiAction>
      </UiRow>
      <UiRow even>
        <UiText v-model="name" label="Which column" :maxlength="200" />
        <UiText v-model="value" label="Its value" :maxlength="200" />
      </UiRow>
      <UiCheck
        v-if="areNumbered"
        v-model="byNumber"
        label="Use the number at the end of each column’s name"
      />
    </template>
    <UiRow v-else-if="shape === 'spread'" even>
      <UiVariable v-model="spreadBy" label="A column for each" :options="optionsOf(variables)" />
      <UiVariable v-model="spreadOf" label="holding" :options="optionsOf(variables)" />
    </UiRow>
    <template v-else-if="others.length">
      <UiSelect
        v-model="other"
        label="Table to join"
        :options="others.map((t) => ({ value: t.id, label: t.name }))"
      />
      <UiRow even>
        <UiVariable v-model="on" label="Shared here as" :options="optionsOf(variables)" />
        <UiVariable v-model="otherOn" label="and there as" :options="optionsOf(theirs)" />
      </UiRow>
      <UiCheck v-model="keepAll" label="Keep rows without a match" />
    </template>
    <UiNote v-else>There is no other table in this study.</UiNote>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiAction kind="main" type="submit" :disabled="!ready" :busy="busy">Make the table</UiAction>
  </form>
</template>
