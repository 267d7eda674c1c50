<script setup lang="ts">
/** Another table made from one: columns stacked, values spread, rows joined. */
import { computed, ref, watch } from 'vue'
import { Problem } from '@/api/client'
import type { Shape, Table, TableTaken } from '@/api/types'
import { useStudy } from '@/stores/study'

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
</script>

<template>
  <form class="shape" aria-label="Shape" @submit.prevent="make">
    <p class="quiet note">{{ WHAT[shape] }}</p>
    <template v-if="shape === 'stack'">
      <div class="choices" role="group" aria-label="Columns to stack">
        <button
          v-for="v in stackable"
          :key="v.name"
          type="button"
          class="choice"
          :aria-pressed="columns.includes(v.name)"
          @click="toggle(v.name)"
        >
          {{ v.label }}
        </button>
      </div>
      <div class="panel__two">
        <label class="field">Which column<input v-model="name" maxlength="200" /></label>
        <label class="field">Its value<input v-model="value" maxlength="200" /></label>
      </div>
    </template>
    <div v-else-if="shape === 'spread'" class="panel__two">
      <label class="field">
        A column for each
        <select v-model="spreadBy">
          <option v-for="v in variables" :key="v.name" :value="v.name">{{ v.label }}</option>
        </select>
      </label>
      <label class="field">
        holding
        <select v-model="spreadOf">
          <option v-for="v in variables" :key="v.name" :value="v.name">{{ v.label }}</option>
        </select>
      </label>
    </div>
    <template v-else-if="others.length">
      <label class="field">
        Table to join
        <select v-model="other">
          <option v-for="t in others" :key="t.id" :value="t.id">{{ t.name }}</option>
        </select>
      </label>
      <div class="panel__two">
        <label class="field">
          Shared here as
          <select v-model="on">
            <option v-for="v in variables" :key="v.name" :value="v.name">{{ v.label }}</option>
          </select>
        </label>
        <label class="field">
          and there as
          <select v-model="otherOn">
            <option v-for="v in theirs" :key="v.name" :value="v.name">{{ v.label }}</option>
          </select>
        </label>
      </div>
      <label class="check">
        <input v-model="keepAll" type="checkbox" /> Keep rows to which nothing belongs
      </label>
    </template>
    <p v-else class="quiet">There is no other table in this study.</p>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <v-btn color="primary" variant="flat" type="submit" :disabled="!ready" :loading="busy">
      Make the table
    </v-btn>
  </form>
</template>

<style scoped>
.shape {
  display: grid;
  gap: 8px;
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.note {
  font-size: 13.5px;
  line-height: 1.3;
}

.check {
  font-size: 14px;
}
</style>
