<script setup lang="ts">
/** Which rows the figure shows: conditions, edited while the count follows. */
import { computed, ref } from 'vue'
import type { Condition, RowFilter, SavedFilter, VariableSummary } from '@/api/types'
import { parsePlace, whyNoPlace } from '@/figure-model/parse'
import { copyOf } from '@/lib/copy'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import { filterWords } from '@/figure-model/statement/filter-words'
import UiNaming from '@/ui/UiNaming.vue'
import UiNote from '@/ui/UiNote.vue'
import UiPopover from '@/ui/UiPopover.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiVariable from '@/ui/UiVariable.vue'
import UiText from '@/ui/UiText.vue'
import UiAction from '@/ui/UiAction.vue'

const props = defineProps<{ variables: VariableSummary[] }>()

/** As tests are offered: one exact value is a range that begins and ends with it. */
type Test = Condition['test'] | 'exactly'

const TESTS: Record<Test, string> = {
  between: 'is from … to',
  exactly: 'is exactly',
  one_of: 'is one of',
  not_one_of: 'is none of',
  contains: 'contains',
  missing: 'is missing',
  present: 'is not missing',
}

const figure = useFigure()
const studies = useStudy()
const open = ref(false)
const problem = ref('')
const rows = computed(() => figure.document!.rows)
const conditions = computed(() => rows.value?.conditions ?? [])
const counts = computed(() => figure.drawn?.answer.counts)
const shown = computed(() => (counts.value ? counts.value.rows - counts.value.filtered : 0))
const text = computed(() => (rows.value ? filterWords(rows.value, props.variables) : 'all'))

const variable = (name: string) => props.variables.find((v) => v.name === name)

const valuesOf = (name: string): string[] => Object.keys(variable(name)?.counts ?? {})

const testsFor = (name: string): Test[] => {
  const kind = variable(name)?.kind
  const ordered = kind === 'number' || kind === 'date'
  const few = kind === 'category' || kind === 'text' || (variable(name)?.distinct ?? 99) <= 24
  return [
    ...(ordered ? (['between', 'exactly'] as const) : []),
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

/** The condition that asks for one exact value, which is not typed yet. */
const exactAt = ref<number | null>(null)

const testOf = ({ test, low, high }: Condition, i: number): Test =>
  test === 'between' && (exactAt.value === i || (low !== null && low === high)) ? 'exactly' : test

function setTest(i: number, test: Test): void {
  exactAt.value = test === 'exactly' ? i : null
  edit(({ conditions: all }) => {
    all[i].test = test === 'exactly' ? 'between' : test
    // One value or the ends of a range: what was typed for one says nothing of the other.
    if (test === 'exactly' || test === 'between') all[i].low = all[i].high = null
    if (test === 'not_one_of') all[i].values = []
    else if (test === 'one_of' && !all[i].values.length) all[i].values = valuesOf(all[i].variable)
  })
}

function removeAt(i: number): void {
  exactAt.value = null
  edit((filter) => filter.conditions.splice(i, 1))
}

const add = (name: string | null): void => {
  if (name !== null) edit((filter) => filter.conditions.push(blank(name)))
}

const blank = (name: string): Condition => ({
  variable: name,
  test: testsFor(name)[0] as Condition['test'],
  low: null,
  high: null,
  values: valuesOf(name),
  text: '',
})

function setVariable(i: number, name: string): void {
  if (exactAt.value === i) exactAt.value = null
  edit((filter) => (filter.conditions[i] = blank(name)))
}

function setEnd(i: number, ends: ('low' | 'high')[], typed: string): void {
  const condition = conditions.value[i]
  const isDate = variable(condition.variable)?.kind === 'date'
  const plain = typed.trim()
  if (plain && Number.isNaN(parsePlace(plain, isDate))) {
    problem.value = whyNoPlace(plain, isDate)
    return
  }
  const value = plain === '' ? null : isDate ? plain : parsePlace(plain, false)
  edit(({ conditions: all }) => {
    for (const end of ends) all[i][end] = value
  })
}

function toggle(i: number, value: string): void {
  edit((filter) => {
    const { values } = filter.conditions[i]
    filter.conditions[i].values = values.includes(value)
      ? values.filter((v) => v !== value)
      : [...values, value]
  })
}

/** All values at once, or none, so that a few can be chosen. */
const setValues = (i: number, values: string[]) =>
  edit((filter) => (filter.conditions[i].values = values))

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

async function save(name: string): Promise<void> {
  if (!rows.value) return
  const { table } = figure.document!
  await studies.save({ of: 'filter', value: { name, table, filter: rows.value } })
}

const use = ({ filter }: SavedFilter) => figure.edit((draft) => (draft.rows = copyOf(filter)))

const JOINS = [
  { value: 'and', label: 'and' },
  { value: 'or', label: 'or' },
] as const
const variableOptions = computed(() =>
  props.variables.map(({ name, label }) => ({ value: name, label })),
)
const testOptions = (name: string) =>
  testsFor(name).map((value) => ({ value, label: TESTS[value] }))
const endOf = (value: string | number | null | undefined): string => String(value ?? '')
</script>

<template>
  <UiPopover v-model="open">
    <template #opener="{ props: menu }">
      <button
        type="button"
        class="word"
        :class="{ 'word--faint': !rows }"
        v-bind="menu"
        :aria-label="rows ? `Rows: ${text}` : `+ row filter, rows: ${text}`"
        aria-haspopup="dialog"
      >
        {{ rows ? text : '+ filter' }}
      </button>
    </template>
    <div
      class="rows card popover ui-list"
      role="dialog"
      aria-label="Which rows"
      @keydown.esc="open = false"
    >
      <strong role="status">{{ shown }} of {{ counts?.rows }} rows</strong>
      <div v-for="(condition, i) in conditions" :key="i" class="ui-list">
        <UiRow>
          <UiSelect
            v-if="i > 0"
            bare
            class="rows__join"
            label="Joined by"
            :model-value="rows!.join"
            :options="JOINS"
            @update:model-value="(join) => edit((f) => (f.join = join))"
          />
          <span v-else class="rows__join quiet">where</span>
          <UiVariable
            bare
            class="ui-fill"
            label="Variable"
            :model-value="condition.variable"
            :options="variableOptions"
            @update:model-value="setVariable(i, $event)"
          />
          <UiSelect
            bare
            class="ui-fill"
            label="Test"
            :model-value="testOf(condition, i)"
            :options="testOptions(condition.variable)"
            @update:model-value="setTest(i, $event)"
          />
          <UiText
            v-if="testOf(condition, i) === 'exactly'"
            bare
            class="ui-fill"
            label="Exactly"
            placeholder="a value"
            :model-value="endOf(condition.low)"
            @update:model-value="setEnd(i, ['low', 'high'], $event)"
          />
          <template v-else-if="condition.test === 'between'">
            <UiText
              bare
              class="ui-short"
              label="From"
              :model-value="endOf(condition.low)"
              :placeholder="endOf(variable(condition.variable)?.min)"
              @update:model-value="setEnd(i, ['low'], $event)"
            />
            <UiText
              bare
              class="ui-short"
              label="To"
              :model-value="endOf(condition.high)"
              :placeholder="endOf(variable(condition.variable)?.max)"
              @update:model-value="setEnd(i, ['high'], $event)"
            />
          </template>
          <UiText
            v-else-if="condition.test === 'contains'"
            bare
            class="ui-fill"
            label="Text"
            :model-value="condition.text"
            @typed="(typed) => edit((f) => (f.conditions[i].text = typed), `text ${i}`)"
          />
          <UiAction kind="words" :label="`Remove condition ${i + 1}`" @click="removeAt(i)">
            ×
          </UiAction>
        </UiRow>
        <UiRow v-if="condition.test === 'one_of' || condition.test === 'not_one_of'" label="Values">
          <template v-if="variable(condition.variable)?.counts">
            <UiAction
              v-for="(count, value) in variable(condition.variable)?.counts ?? {}"
              :key="value"
              :pressed="condition.values.includes(String(value))"
              @click="toggle(i, String(value))"
            >
              {{ value }} <span class="quiet">&ensp;{{ count }}</span>
            </UiAction>
            <UiAction
              v-if="condition.values.length"
              kind="words"
              label="No value"
              @click="setValues(i, [])"
            >
              none
            </UiAction>
            <UiAction
              v-else
              kind="words"
              label="Every value"
              @click="setValues(i, valuesOf(condition.variable))"
            >
              all
            </UiAction>
          </template>
          <UiText
            v-else
            bare
            class="ui-fill"
            label="Values, separated by commas"
            placeholder="values, separated by commas"
            :model-value="condition.values.join(', ')"
            @update:model-value="setTyped(i, $event)"
          />
        </UiRow>
      </div>
      <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
      <UiRow>
        <UiVariable
          bare
          class="ui-fill"
          :label="conditions.length ? 'Another condition on' : 'Filter by'"
          :placeholder="conditions.length ? '+ condition on …' : 'Choose a variable'"
          :model-value="null"
          :options="variableOptions"
          @update:model-value="add"
        />
        <UiAction v-if="conditions.length" kind="words" @click="edit((f) => (f.conditions = []))">
          All rows
        </UiAction>
        <UiNaming
          v-if="rows"
          class="ui-fill"
          label="Name to save this filter under"
          action="Save this filter"
          @named="save"
        />
      </UiRow>
      <UiRow v-if="saved.length" label="Saved filters">
        <span class="quiet">Saved:</span>
        <template v-for="one in saved" :key="one.name">
          <UiAction
            :pressed="JSON.stringify(one.filter) === JSON.stringify(rows)"
            @click="use(one)"
          >
            {{ one.name }}
          </UiAction>
          <UiAction
            kind="words"
            :label="`Forget ${one.name}`"
            @click="studies.forgetSaved({ of: 'filter', value: one })"
          >
            ×
          </UiAction>
        </template>
      </UiRow>
    </div>
  </UiPopover>
</template>

<style scoped>
.word--faint {
  margin-left: 8px;
}

.rows {
  width: 600px;
  padding: 12px;
  max-width: calc(100vw - 32px);
}

.rows__join {
  width: 76px;
  flex: none;
}
</style>
