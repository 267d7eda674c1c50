<script setup lang="ts">
/** Which rows the figure shows: conditions, edited while the count follows. */
import { computed, ref } from 'vue'
import type { Condition, RowFilter, SavedFilter, VariableSummary } from '@/api/types'
import { parsePlace } from '@/tuning/parse'
import { copyOf, useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import HeldInput from './HeldInput.vue'
import { filterWords } from './filter-words'

const props = defineProps<{ variables: VariableSummary[] }>()

const TESTS: Record<Condition['test'], string> = {
  between: 'is from … to',
  one_of: 'is one of',
  not_one_of: 'is none of',
  contains: 'contains',
  missing: 'is missing',
  present: 'is there',
}

const figure = useFigure()
const studies = useStudy()
const open = ref(false)
const called = ref('')
const problem = ref('')
const rows = computed(() => figure.document!.rows)
const conditions = computed(() => rows.value?.conditions ?? [])
const counts = computed(() => figure.drawn?.answer.counts)
const shown = computed(() => (counts.value ? counts.value.rows - counts.value.filtered : 0))
const text = computed(() => (rows.value ? filterWords(rows.value, props.variables) : 'all'))

const variable = (name: string) => props.variables.find((v) => v.name === name)

const testsFor = (name: string): Condition['test'][] => {
  const kind = variable(name)?.kind
  const ordered = kind === 'number' || kind === 'date'
  const few = kind === 'category' || kind === 'text' || (variable(name)?.distinct ?? 99) <= 24
  return [
    ...(ordered ? (['between'] as const) : []),
    ...(few ? (['one_of', 'not_one_of'] as const) : []),
    ...(kind === 'text' || kind === 'category' ? (['contains'] as const) : []),
    'missing',
    'present',
  ]
}

function edit(change: (filter: RowFilter) => void, what = ''): void {
  problem.value = ''
  figure.edit((draft) => {
    const filter: RowFilter = draft.rows ?? { join: 'and', conditions: [] }
    change(filter)
    draft.rows = filter.conditions.length ? filter : null
  }, what)
}

function add(): void {
  const first = props.variables.find(({ kind }) => kind === 'category') ?? props.variables[0]
  edit((filter) => filter.conditions.push(blank(first.name)))
}

const blank = (name: string): Condition => ({
  variable: name,
  test: testsFor(name)[0],
  low: null,
  high: null,
  values: Object.keys(variable(name)?.counts ?? {}),
  text: '',
})

function setVariable(i: number, name: string): void {
  edit((filter) => (filter.conditions[i] = blank(name)))
}

function setEnd(i: number, end: 'low' | 'high', typed: string): void {
  const condition = conditions.value[i]
  const isDate = variable(condition.variable)?.kind === 'date'
  const plain = typed.trim()
  if (plain && Number.isNaN(parsePlace(plain, isDate))) {
    problem.value = `“${plain}” is not ${isDate ? 'a date such as 2031-04-01' : 'a number'}.`
    return
  }
  const value = plain === '' ? null : isDate ? plain : parsePlace(plain, false)
  edit((filter) => (filter.conditions[i][end] = value))
}

function toggle(i: number, value: string): void {
  edit((filter) => {
    const { values } = filter.conditions[i]
    filter.conditions[i].values = values.includes(value)
      ? values.filter((v) => v !== value)
      : [...values, value]
  })
}

const setTyped = (i: number, typed: string) =>
  edit((filter) => {
    filter.conditions[i].values = typed
      .split(',')
      .map((v) => v.trim())
      .filter(Boolean)
  }, `values ${i}`)

/** Filters that the study keeps for this table. */
const saved = computed(() =>
  (studies.study?.filters ?? []).filter(({ table }) => table === figure.document!.table),
)

async function save(): Promise<void> {
  const name = called.value.trim()
  if (!name || !rows.value) return
  const { table } = figure.document!
  await studies.saveFilter({ name, table, filter: rows.value })
  called.value = ''
}

const use = ({ filter }: SavedFilter) => figure.edit((draft) => (draft.rows = copyOf(filter)))

const chosen = (event: Event): string => (event.target as HTMLInputElement).value
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false" :transition="false">
    <template #activator="{ props: menu }">
      <button
        type="button"
        class="word"
        :class="{ 'word--faint': !rows }"
        v-bind="menu"
        :aria-label="`Rows: ${text}`"
        aria-haspopup="dialog"
      >
        {{ rows ? text : '+ row filter' }}
      </button>
    </template>
    <div class="rows" role="dialog" aria-label="Which rows" @keydown.esc="open = false">
      <p class="rows__count" role="status">{{ shown }} of {{ counts?.rows }} rows</p>
      <div v-for="(condition, i) in conditions" :key="i" class="rows__condition">
        <select
          v-if="i > 0"
          class="rows__join"
          :value="rows?.join"
          aria-label="Joined by"
          @change="edit((f) => (f.join = chosen($event) as RowFilter['join']))"
        >
          <option value="and">and</option>
          <option value="or">or</option>
        </select>
        <span v-else class="quiet">where</span>
        <select
          :value="condition.variable"
          aria-label="Variable"
          @change="setVariable(i, chosen($event))"
        >
          <option v-for="v in variables" :key="v.name" :value="v.name">{{ v.label }}</option>
        </select>
        <select
          :value="condition.test"
          aria-label="Test"
          @change="edit((f) => (f.conditions[i].test = chosen($event) as Condition['test']))"
        >
          <option v-for="test in testsFor(condition.variable)" :key="test" :value="test">
            {{ TESTS[test] }}
          </option>
        </select>
        <template v-if="condition.test === 'between'">
          <HeldInput
            :value="String(condition.low ?? '')"
            :placeholder="String(variable(condition.variable)?.min ?? '')"
            aria-label="From"
            @set="setEnd(i, 'low', $event)"
          />
          <HeldInput
            :value="String(condition.high ?? '')"
            :placeholder="String(variable(condition.variable)?.max ?? '')"
            aria-label="To"
            @set="setEnd(i, 'high', $event)"
          />
        </template>
        <input
          v-else-if="condition.test === 'contains'"
          v-held="condition.text"
          aria-label="Text"
          @input="edit((f) => (f.conditions[i].text = chosen($event)), `text ${i}`)"
        />
        <button
          type="button"
          class="link rows__remove"
          :aria-label="`Take condition ${i + 1} off`"
          @click="edit((f) => f.conditions.splice(i, 1))"
        >
          ×
        </button>
        <div
          v-if="condition.test === 'one_of' || condition.test === 'not_one_of'"
          class="rows__values"
          role="group"
          aria-label="Values"
        >
          <template v-if="variable(condition.variable)?.counts">
            <button
              v-for="(count, value) in variable(condition.variable)?.counts ?? {}"
              :key="value"
              type="button"
              class="choice"
              :aria-pressed="condition.values.includes(String(value))"
              @click="toggle(i, String(value))"
            >
              {{ value }} <span class="quiet">{{ count }}</span>
            </button>
          </template>
          <HeldInput
            v-else
            class="rows__typed"
            :value="condition.values.join(', ')"
            placeholder="values, parted by commas"
            aria-label="Values, parted by commas"
            @set="setTyped(i, $event)"
          />
        </div>
      </div>
      <p v-if="problem" class="rows__problem" role="alert">{{ problem }}</p>
      <div class="rows__foot">
        <button type="button" class="link" @click="add">+ condition</button>
        <button
          v-if="conditions.length"
          type="button"
          class="link"
          @click="edit((f) => (f.conditions = []))"
        >
          All rows
        </button>
        <form v-if="rows" class="rows__save" @submit.prevent="save">
          <input
            v-model="called"
            maxlength="200"
            placeholder="Name"
            aria-label="Name to save this filter under"
          />
          <button type="submit" class="link" :disabled="!called.trim()">Save for the study</button>
        </form>
      </div>
      <div v-if="saved.length" class="rows__saved" role="group" aria-label="Saved filters">
        <span class="quiet">Saved:</span>
        <span v-for="one in saved" :key="one.name" class="rows__one">
          <button
            type="button"
            class="choice"
            :aria-pressed="JSON.stringify(one.filter) === JSON.stringify(rows)"
            @click="use(one)"
          >
            {{ one.name }}
          </button>
          <button
            type="button"
            class="link"
            :aria-label="`Forget ${one.name}`"
            @click="studies.deleteFilter(one)"
          >
            ×
          </button>
        </span>
      </div>
    </div>
  </v-menu>
</template>

<style scoped>
.word--faint {
  margin-left: 8px;
}

.rows {
  background: var(--raised);
  color: var(--ink);
  border: 1px solid var(--line);
  border-radius: 6px;
  box-shadow: 0 4px 18px rgb(29 43 42 / 16%);
  padding: 12px;
  width: 520px;
  display: grid;
  gap: 8px;
}

.rows__count {
  font-weight: 600;
}

.rows__condition {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

.rows__condition select,
.rows__condition input {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 3px 6px;
  background: var(--raised);
  color: var(--ink);
  min-width: 0;
}

.rows__condition select {
  appearance: auto;
  max-width: 140px;
}

.rows__condition input {
  width: 76px;
}

.rows__condition .rows__typed {
  width: 100%;
}

.rows__values {
  width: 100%;
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.rows__remove {
  margin-left: auto;
  font-size: 18px;
  padding: 0 6px;
}

.rows__foot {
  display: flex;
  gap: 16px;
}

.rows__save {
  margin-left: auto;
  display: flex;
  gap: 8px;
}

.rows__save input {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 1px 8px;
  width: 130px;
}

.rows__save .link:disabled {
  opacity: 0.5;
  cursor: default;
}

.rows__saved {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
  font-size: 14px;
}

.rows__one {
  display: flex;
  gap: 3px;
}

.rows__problem {
  color: var(--caution);
  font-size: 14px;
}
</style>
