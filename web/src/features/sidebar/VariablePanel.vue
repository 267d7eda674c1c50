<script setup lang="ts">
/** A variable: its label, unit and kind, and what it holds in a few numbers. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { blankDocument } from '@/figure-model/blank'
import { Problem } from '@/api/client'
import type { Kind, Table, VariableChanged, VariableSummary } from '@/api/types'
import { GAP, valueText } from '@/render/geometry/ticks'
import SidePanel from '@/components/SidePanel.vue'
import { distributionOf } from '@/kinds/distribution'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { rolesFor } from '@/figure-model/statement/roles'
import { statementContext } from '@/stores/statement-context'
import { statementOf } from '@/kinds'
import { countOf, inBraces, inSentence, whyByParts } from '@/figure-model/words'
import CategoryList from './CategoryList.vue'
import DerivePanel from './DerivePanel.vue'
import UiNaming from '@/ui/UiNaming.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiText from '@/ui/UiText.vue'
import UiValues from '@/ui/UiValues.vue'
import UiAction from '@/ui/UiAction.vue'

const KINDS = (['number', 'category', 'date', 'text'] as const).map((value) => ({
  value,
  label: value,
}))
const MOST_LISTED = 8

/** What is changed here is this variable of this table, whichever table is open by then. */
const props = defineProps<{ table: Table; variable: VariableSummary }>()

const studies = useStudy()
const side = useSide()
const figure = useFigure()
const router = useRouter()
const offered = computed(() => (props.table.dataset ? BY_ROW : QUICK))
const changed = ref<VariableChanged | null>(null)
const busy = ref(false)

async function change(what: { label?: string; unit?: string; kind?: Kind }): Promise<void> {
  busy.value = true
  try {
    changed.value = await studies.changeVariable(props.table.id, props.variable.name, what)
  } finally {
    busy.value = false
  }
}

/** Common derivations without typing: what each is called and how it is written. */
const BY_ROW: { label: string; make: (name: string) => string }[] = [
  { label: 'ln', make: (name) => `ln(${name})` },
  { label: 'square root', make: (name) => `sqrt(${name})` },
]
/** Those that look at all rows, which of a dataset are never together. */
const QUICK: typeof BY_ROW = [
  ...BY_ROW,
  { label: 'standardised', make: (name) => `standardise(${name})` },
  { label: 'rank of', make: (name) => `rank(${name})` },
  { label: 'difference of', make: (name) => `difference(${name})` },
  { label: '4 equal-width bins of', make: (name) => `classes_of_width(${name}, 4)` },
  { label: 'quartiles of', make: (name) => `classes_of_count(${name}, 4)` },
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
    await studies.derive(props.table.id, {
      name,
      expression: make(inBraces(props.variable.name)),
      label: '',
      unit: '',
    })
    side.show({ kind: 'variable', name })
  })

/** Classes between limits that are typed, as an expression like any other. */
const cut = (limits: string) =>
  guarded(async () => {
    const typed = limits
      .replaceAll('−', '-')
      .split(/[;\s]+|,\s*/)
      .filter(Boolean)
    const wrong = typed.find((text) => !Number.isFinite(Number(text)))
    if (wrong !== undefined)
      throw new Problem(422, `“${wrong}” is not a number.`, 'Separate limits by commas.')
    const rising = [...new Set(typed.map(Number))].sort((a, b) => a - b)
    const name = `classes of ${props.variable.name}`
    await studies.derive(props.table.id, {
      name,
      expression: `classes_at(${inBraces(props.variable.name)}, ${rising.join(', ')})`,
      label: '',
      unit: '',
    })
    side.show({ kind: 'variable', name })
  })

/** What can be shown of it by itself: a number, or the figure's number for each category. */
const spreads = computed((): { label: string; variable: string; by: string | null }[] => {
  const own = props.variable
  const all = props.table.summary.variables
  if (own.kind === 'number' || own.kind === 'date')
    return [
      { label: 'by itself', variable: own.name, by: null },
      ...all
        .filter(({ kind }) => kind === 'category')
        .slice(0, 3)
        .map((v) => ({ label: `for each ${inSentence(v)}`, variable: own.name, by: v.name })),
    ]
  if (own.kind !== 'category') return []
  const open = figure.document?.table === props.table.id ? figure.document?.y[0] : null
  return all
    .filter(({ kind }) => kind === 'number')
    .sort((a, b) => Number(b.name === open) - Number(a.name === open))
    .slice(0, 3)
    .map((v) => ({ label: `${inSentence(v)} for each`, variable: v.name, by: own.name }))
})

const spread = ({ variable, by }: { variable: string; by: string | null }) =>
  guarded(async () => {
    const document = blankDocument(props.table.id, variable, variable)
    distributionOf(document, variable, by)
    const studyId = studies.study!.id
    const made = await studies.addFigure(document)
    if (studies.study?.id === studyId)
      await router.push({ name: 'study', params: { studyId, figureId: made.id } })
  })

/** What it can be on the open figure, where that is a figure of its table. */
const roles = computed(() =>
  figure.document?.table === props.table.id
    ? rolesFor(statementOf(statementContext(figure, studies, side)), props.variable.name)
    : [],
)

const remove = () =>
  guarded(async () => {
    await studies.deleteVariable(props.table.id, props.variable.name)
    side.rest()
  })

function edited(): void {
  editing.value = false
}

function setLabel(typed: string): void {
  const label = typed.trim()
  if (label) void change({ label })
}

const text = (value: number | string | null): string =>
  value === null ? '' : typeof value === 'string' ? value : valueText(Number(value.toPrecision(6)))

const measured = (value: number | string | null): string =>
  text(value) + (props.variable.unit && typeof value === 'number' ? GAP + props.variable.unit : '')

const lines = computed(() => {
  const v = props.variable
  const rows = studies.table?.summary.rows ?? 0
  const all = [
    { label: 'n', value: String(rows - v.missing) },
    { label: 'Missing', value: String(v.missing) },
    ...(v.distinct === null ? [] : [{ label: 'Different values', value: String(v.distinct) }]),
    { label: 'Mean', value: measured(v.mean) },
    { label: 'SD', value: measured(v.sd) },
    { label: 'Smallest', value: measured(v.min) },
    { label: 'Lower quartile', value: measured(v.lower_quartile) },
    { label: 'Median', value: measured(v.median) },
    { label: 'Upper quartile', value: measured(v.upper_quartile) },
    { label: 'Largest', value: measured(v.max) },
  ]
  return all.filter(({ value }) => value).map((one) => ({ name: one.label, ...one }))
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
    <UiText
      label="Label"
      :model-value="variable.label"
      :maxlength="200"
      @update:model-value="setLabel"
    />
    <UiRow even>
      <UiText
        label="Unit"
        :model-value="variable.unit"
        :maxlength="100"
        @update:model-value="change({ unit: $event.trim() })"
      />
      <UiSelect
        label="Kind"
        :model-value="variable.kind"
        :options="KINDS"
        :disabled="busy || variable.recipe !== null || Boolean(studies.table?.dataset)"
        @update:model-value="change({ kind: $event })"
      />
    </UiRow>
    <UiNote v-if="changed?.unread" kind="wrong">
      {{ countOf(changed.unread, 'value') }} cannot be read as a {{ variable.kind }} and
      {{ changed.unread === 1 ? 'is' : 'are' }} missing under this kind. Nothing is lost: another
      kind brings {{ changed.unread === 1 ? 'it' : 'them' }} back.
      <span v-for="one in changed.unread_values.slice(0, MOST_LISTED)" :key="one.row" class="line">
        Row {{ one.row + 1 }}: “{{ one.value }}”
      </span>
    </UiNote>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiRow v-if="variable.recipe">
      <code class="ui-fill">{{ variable.recipe }}</code>
      <UiAction kind="words" @click="editing = true">Change</UiAction>
    </UiRow>
    <UiValues :of="lines" />
    <UiRow v-if="roles.length" label="Put it on the open figure">
      <span class="quiet">Put on:</span>
      <UiAction v-for="one in roles" :key="one.role" :pressed="one.isTaken" @click="one.put">
        {{ one.label }}
      </UiAction>
    </UiRow>
    <UiRow v-if="spreads.length" label="Show its distribution">
      <span class="quiet">Show:</span>
      <UiAction
        v-for="one in spreads"
        :key="one.label"
        :off="whyByParts(studies.table)"
        @click="spread(one)"
      >
        {{ one.label }}
      </UiAction>
    </UiRow>
    <CategoryList v-if="variable.kind === 'category'" :variable="variable" />
    <UiNaming
      v-if="variable.kind === 'number'"
      aria-label="Bin into categories"
      label="Bin at these limits"
      action="Bin into categories"
      placeholder="20, 40, 60"
      @named="cut"
    />
    <UiRow v-if="variable.kind === 'number'" label="Derive">
      <span class="quiet">Derive:</span>
      <UiAction v-for="one in offered" :key="one.label" @click="quick(one)">
        {{ one.label.replace(/ of$/, '') }}
      </UiAction>
    </UiRow>
    <UiAction kind="words" @click="remove">Delete this variable</UiAction>
  </SidePanel>
</template>

<style scoped>
.line {
  display: block;
}

code {
  overflow-wrap: anywhere;
}
</style>
