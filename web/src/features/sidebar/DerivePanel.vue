<script setup lang="ts">
/** Making a variable from others by an expression, tried while it is typed. */
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { client, Problem, take } from '@/api/client'
import type { ExpressionTried } from '@/api/types'
import { valueText } from '@/render/geometry/ticks'
import { VOCABULARY } from '@/figure-model/vocabulary'
import SidePanel from '@/components/SidePanel.vue'
import { inExpression } from '@/figure-model/words'
import { useAnswer, useKeys } from '@/stores/queries'
import { useStudy } from '@/stores/study'
import UiField from '@/ui/UiField.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiText from '@/ui/UiText.vue'
import UiAction from '@/ui/UiAction.vue'

const TRY_AFTER_MS = 200
const props = defineProps<{
  /** The derived variable to change; none to make another. */
  name?: string
  expression?: string
  unit?: string
}>()
const emit = defineEmits<{ done: [name: string | null] }>()

const studies = useStudy()
const name = ref(props.name ?? '')
const unit = ref(props.unit ?? '')
const expression = ref(props.expression ?? '')
/** Why it could not be made. */
const refused = ref<Problem | null>(null)
const busy = ref(false)

/** The table that was open when one began, whichever is open by the end. */
const tableId = studies.openTable!
/** A line with a mark below the place that is wrong. */
const pointer = computed(() => {
  const at = problem.value?.position ?? null
  return at === null ? '' : `${' '.repeat(at)}^`
})

/** What is tried once typing rests. */
const resting = ref('')
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  expression,
  (text) => {
    clearTimeout(timer)
    refused.value = null
    if (text.trim() === '') resting.value = ''
    else timer = setTimeout(() => (resting.value = text), TRY_AFTER_MS)
  },
  { immediate: true },
)
onBeforeUnmount(() => clearTimeout(timer))

const keyOf = useKeys()
const { data, error } = useAnswer(
  () => (resting.value ? keyOf('expression', tableId, resting.value) : null),
  (signal) =>
    take<ExpressionTried>(
      client.POST('/api/tables/{table_id}/expressions', {
        params: { path: { table_id: tableId } },
        body: { expression: resting.value },
        signal,
      }),
    ),
)
const isCurrent = computed(() => resting.value === expression.value)
const tried = computed(() => (isCurrent.value ? (data.value ?? null) : null))
const problem = computed(() => refused.value ?? (isCurrent.value ? error.value : null))

/** Numbers are shown in short; the variable keeps all their digits. */
const shown = (value: string | null): string =>
  value === null ? 'missing' : tried.value?.kind === 'number' ? valueText(Number(value)) : value

function insert(text: string): void {
  const gap = expression.value && !/[\s(]$/.test(expression.value) ? ' ' : ''
  expression.value += gap + text
}

async function make(): Promise<void> {
  busy.value = true
  try {
    await studies.derive(tableId, {
      name: name.value.trim(),
      expression: expression.value,
      label: '',
      unit: unit.value.trim(),
    })
    emit('done', name.value.trim())
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    refused.value = error
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <SidePanel
    :heading="props.name ? `Change ${props.name}` : 'Derive a variable'"
    label="Derive a variable"
    data-testid="derive"
    @close="emit('done', null)"
  >
    <UiRow even>
      <UiText
        label="Name"
        :model-value="name"
        :maxlength="200"
        :disabled="props.name !== undefined"
        @typed="name = $event"
      />
      <UiText label="Unit" :model-value="unit" :maxlength="100" @typed="unit = $event" />
    </UiRow>
    <UiText
      class="typed"
      label="Expression"
      :model-value="expression"
      :lines="3"
      :maxlength="2000"
      :spellcheck="false"
      placeholder="yield / {air temperature}"
      @typed="expression = $event"
    />
    <div v-if="problem" class="wrong" role="alert">
      <pre v-if="pointer" aria-hidden="true"
        >{{ expression }}
{{ pointer }}</pre>
      {{ problem.sentence }}
    </div>
    <UiNote v-else-if="tried" kind="plain" role="status">
      Gives a {{ tried.kind }}: {{ tried.head.map(shown).join(', ') }} …
      <template v-if="tried.missing">
        {{ tried.missing }} missing{{
          studies.table?.dataset ? ' among the first rows' : ''
        }}.</template
      >
    </UiNote>
    <UiAction kind="main" :disabled="!tried || !name.trim()" :busy="busy" @click="make">
      {{ props.name ? 'Change it' : 'Add it' }}
    </UiAction>
    <UiField label="Variables" role="group" aria-label="Variables">
      <UiRow>
        <UiAction
          v-for="v in studies.table?.summary.variables ?? []"
          :key="v.name"
          @click="insert(inExpression(v.name))"
        >
          {{ v.name }}
        </UiAction>
      </UiRow></UiField
    >
    <UiField label="Functions" role="group" aria-label="Functions">
      <UiRow>
        <UiAction v-for="f in VOCABULARY.functions" :key="f" @click="insert(`${f}(`)">
          {{ f }}
        </UiAction>
      </UiRow></UiField
    >
  </SidePanel>
</template>

<style scoped>
.typed :deep(textarea),
.wrong pre {
  font-family: ui-monospace, monospace;
  font-size: var(--text-small);
  overflow: auto;
}
</style>
