<script setup lang="ts">
/** A variable: its label, unit and kind, and what it holds in a few numbers. */
import { computed, ref } from 'vue'
import { Problem } from '@/api/client'
import type { Kind, VariableChanged, VariableSummary } from '@/api/types'
import { GAP, valueText } from '@/drawing/geometry/ticks'
import SidePanel from '@/SidePanel.vue'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf, inBraces } from '@/model/words'
import CategoryList from './CategoryList.vue'
import DerivePanel from './DerivePanel.vue'

const KINDS: Kind[] = ['number', 'category', 'date', 'text']
const MOST_LISTED = 8

const props = defineProps<{ variable: VariableSummary }>()

const studies = useStudy()
const side = useSide()
const changed = ref<VariableChanged | null>(null)
const busy = ref(false)

async function change(what: { label?: string; unit?: string; kind?: Kind }): Promise<void> {
  const table = studies.table
  if (!table) return
  busy.value = true
  try {
    changed.value = await studies.changeVariable(table.id, props.variable.name, what)
  } finally {
    busy.value = false
  }
}

/** Common derivations without typing: what each is called and how it is written. */
const QUICK: { label: string; make: (name: string) => string }[] = [
  { label: 'ln', make: (name) => `ln(${name})` },
  { label: 'square root', make: (name) => `sqrt(${name})` },
  { label: 'standardised', make: (name) => `standardise(${name})` },
  { label: 'rank of', make: (name) => `rank(${name})` },
  { label: 'difference of', make: (name) => `difference(${name})` },
  { label: 'four equal widths of', make: (name) => `classes_of_width(${name}, 4)` },
  { label: 'four equal counts of', make: (name) => `classes_of_count(${name}, 4)` },
]

const editing = ref(false)
const problem = ref('')

async function guarded(work: () => Promise<void>): Promise<void> {
  problem.value = ''
  try {
    await work()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  }
}

const quick = ({ label, make }: (typeof QUICK)[number]) =>
  guarded(async () => {
    const name = `${label} ${props.variable.name}`
    await studies.derive(studies.openTable!, {
      name,
      expression: make(inBraces(props.variable.name)),
      label: '',
      unit: '',
    })
    side.show({ kind: 'variable', name })
  })

const limits = ref('')

/** Classes between limits that are typed, as an expression like any other. */
const cut = () =>
  guarded(async () => {
    const typed = limits.value
      .replaceAll('−', '-')
      .split(/[;\s]+|,\s*/)
      .filter(Boolean)
    const wrong = typed.find((text) => !Number.isFinite(Number(text)))
    if (wrong !== undefined)
      throw new Problem(422, `“${wrong}” is not a number.`, 'Limits are parted by commas.')
    const rising = [...new Set(typed.map(Number))].sort((a, b) => a - b)
    const name = `classes of ${props.variable.name}`
    await studies.derive(studies.openTable!, {
      name,
      expression: `classes_at(${inBraces(props.variable.name)}, ${rising.join(', ')})`,
      label: '',
      unit: '',
    })
    side.show({ kind: 'variable', name })
  })

const remove = () =>
  guarded(async () => {
    await studies.deleteVariable(studies.openTable!, props.variable.name)
    side.rest()
  })

function edited(): void {
  editing.value = false
}

const typed = (event: Event): string => (event.target as HTMLInputElement).value.trim()

function setLabel(event: Event): void {
  const label = typed(event)
  if (label) void change({ label })
}

const text = (value: number | string | null): string =>
  value === null ? '' : typeof value === 'string' ? value : valueText(Number(value.toPrecision(6)))

const measured = (value: number | string | null): string =>
  text(value) + (props.variable.unit && typeof value === 'number' ? GAP + props.variable.unit : '')

const lines = computed((): { label: string; value: string }[] => {
  const v = props.variable
  const rows = studies.table?.summary.rows ?? 0
  const all = [
    { label: 'n', value: String(rows - v.missing) },
    { label: 'Missing', value: String(v.missing) },
    { label: 'Different values', value: String(v.distinct) },
    { label: 'Mean', value: measured(v.mean) },
    { label: 'SD', value: measured(v.sd) },
    { label: 'Smallest', value: measured(v.min) },
    { label: 'Lower quartile', value: measured(v.lower_quartile) },
    { label: 'Median', value: measured(v.median) },
    { label: 'Upper quartile', value: measured(v.upper_quartile) },
    { label: 'Largest', value: measured(v.max) },
  ]
  return all.filter(({ value }) => value)
})
</script>

<template>
  <DerivePanel
    v-if="editing"
    :name="variable.name"
    :expression="variable.recipe ?? ''"
    :unit="variable.unit"
    @done="edited"
  />
  <SidePanel
    v-else
    :heading="variable.label"
    :label="`Variable ${variable.label}`"
    data-testid="variable"
  >
    <label class="field">
      Label
      <input v-held="variable.label" maxlength="200" @change="setLabel" />
    </label>
    <div class="panel__two">
      <label class="field">
        Unit
        <input v-held="variable.unit" maxlength="100" @change="change({ unit: typed($event) })" />
      </label>
      <label class="field">
        Kind
        <select
          :value="variable.kind"
          :disabled="busy || variable.recipe !== null"
          @change="change({ kind: typed($event) as Kind })"
        >
          <option v-for="kind in KINDS" :key="kind">{{ kind }}</option>
        </select>
      </label>
    </div>
    <div v-if="changed?.unread" class="unread" role="alert">
      {{ countOf(changed.unread, 'value') }} cannot be read as a {{ variable.kind }} and
      {{ changed.unread === 1 ? 'is' : 'are' }} missing under this kind. Nothing is lost: another
      kind brings {{ changed.unread === 1 ? 'it' : 'them' }} back.
      <ul>
        <li v-for="one in changed.unread_values.slice(0, MOST_LISTED)" :key="one.row">
          Row {{ one.row + 1 }}: “{{ one.value }}”
        </li>
      </ul>
    </div>
    <p v-if="problem" class="unread" role="alert">{{ problem }}</p>
    <div v-if="variable.recipe" class="recipe">
      <code>{{ variable.recipe }}</code>
      <button type="button" class="link" @click="editing = true">Change</button>
    </div>
    <dl class="numbers">
      <template v-for="line in lines" :key="line.label">
        <dt>{{ line.label }}</dt>
        <dd>{{ line.value }}</dd>
      </template>
    </dl>
    <CategoryList v-if="variable.kind === 'category'" :variable="variable" />
    <form
      v-if="variable.kind === 'number'"
      class="cut"
      aria-label="Cut into classes"
      @submit.prevent="cut"
    >
      <label class="field">
        Cut into classes at
        <input v-model="limits" placeholder="20, 40, 60" inputmode="decimal" />
      </label>
      <button type="submit" class="choice" :disabled="!limits.trim()">Cut</button>
    </form>
    <div v-if="variable.kind === 'number'" class="quick" role="group" aria-label="Derive">
      <span class="quiet">Derive:</span>
      <button
        v-for="one in QUICK"
        :key="one.label"
        type="button"
        class="choice"
        @click="quick(one)"
      >
        {{ one.label.replace(/ of$/, '') }}
      </button>
    </div>
    <button type="button" class="link" @click="remove">Delete this variable</button>
  </SidePanel>
</template>

<style scoped>
.unread {
  background: var(--caution-ground);
  color: var(--caution);
  border-radius: 6px;
  padding: 8px 12px;
  font-size: 14px;
  line-height: 1.38;
}

.unread ul {
  padding-left: 16px;
}

.numbers {
  display: grid;
  grid-template-columns: auto auto;
  gap: 2px 12px;
  font-size: 14px;
}

.cut {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
  align-items: end;
}

.recipe,
.quick {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 8px;
  align-items: center;
  font-size: 14px;
}

.recipe code {
  flex: 1;
  overflow-wrap: anywhere;
}

.numbers dt {
  color: var(--soft-ink);
}

.numbers dd {
  margin: 0;
  text-align: right;
}
</style>
