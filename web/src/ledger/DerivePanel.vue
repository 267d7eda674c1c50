<script setup lang="ts">
/** Making a variable from others by an expression, tried while it is typed. */
import { computed, ref, watch } from 'vue'
import { client, Problem, take } from '@/api/client'
import type { ExpressionTried } from '@/api/types'
import { valueText } from '@/drawing/geometry/ticks'
import { VOCABULARY } from '@/model/vocabulary'
import SidePanel from '@/SidePanel.vue'
import { inExpression } from '@/model/words'
import { useStudy } from '@/stores/study'

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
const tried = ref<ExpressionTried | null>(null)
const problem = ref<Problem | null>(null)
const busy = ref(false)

const tableId = computed(() => studies.openTable!)
/** A line with a mark below the place that is wrong. */
const pointer = computed(() => {
  const at = problem.value?.position ?? null
  return at === null ? '' : `${' '.repeat(at)}^`
})

let timer: ReturnType<typeof setTimeout> | undefined
watch(
  expression,
  (text) => {
    clearTimeout(timer)
    problem.value = null
    if (text.trim() === '') tried.value = null
    else timer = setTimeout(() => void attempt(text), TRY_AFTER_MS)
  },
  { immediate: true },
)

async function attempt(text: string): Promise<void> {
  try {
    const found = await take<ExpressionTried>(
      client.POST('/api/tables/{table_id}/expressions', {
        params: { path: { table_id: tableId.value } },
        body: { expression: text },
      }),
    )
    if (text === expression.value) tried.value = found
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    if (text !== expression.value) return
    tried.value = null
    problem.value = error
  }
}

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
    await studies.derive(tableId.value, {
      name: name.value.trim(),
      expression: expression.value,
      label: '',
      unit: unit.value.trim(),
    })
    emit('done', name.value.trim())
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error
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
    <div class="panel__two">
      <label class="field">
        Name
        <input v-model="name" maxlength="200" :disabled="props.name !== undefined" />
      </label>
      <label class="field">
        Unit
        <input v-model="unit" maxlength="100" />
      </label>
    </div>
    <label class="field">
      Expression
      <textarea
        v-model="expression"
        rows="3"
        maxlength="2000"
        spellcheck="false"
        placeholder="yield / {air temperature}"
      />
    </label>
    <div v-if="problem" class="wrong" role="alert">
      <pre v-if="pointer" aria-hidden="true"
        >{{ expression }}
{{ pointer }}</pre>
      {{ problem.sentence }}
    </div>
    <p v-else-if="tried" class="given" role="status">
      Gives a {{ tried.kind }}: {{ tried.head.map(shown).join(', ') }} …
      <template v-if="tried.missing"> {{ tried.missing }} missing.</template>
    </p>
    <v-btn
      color="primary"
      variant="flat"
      :disabled="!tried || !name.trim()"
      :loading="busy"
      @click="make"
    >
      {{ props.name ? 'Change it' : 'Add it' }}
    </v-btn>
    <div class="words">
      <h3 class="quiet">Variables</h3>
      <button
        v-for="v in studies.table?.summary.variables ?? []"
        :key="v.name"
        type="button"
        class="choice"
        @click="insert(inExpression(v.name))"
      >
        {{ v.name }}
      </button>
    </div>
    <div class="words">
      <h3 class="quiet">Functions</h3>
      <button
        v-for="f in VOCABULARY.functions"
        :key="f"
        type="button"
        class="choice"
        @click="insert(`${f}(`)"
      >
        {{ f }}
      </button>
    </div>
  </SidePanel>
</template>

<style scoped>
textarea {
  font-family: ui-monospace, monospace;
  font-size: 14px;
  line-height: 1.4;
  color: var(--ink);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 5px 8px;
  resize: vertical;
}

textarea::placeholder {
  color: var(--soft-ink);
  opacity: 1;
}

.wrong pre {
  font-size: 13px;
  line-height: 1.2;
  overflow: auto;
}

.given {
  font-size: 14px;
  overflow-wrap: anywhere;
}

.words {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.words h3 {
  width: 100%;
  font-size: 13.5px;
  font-weight: 400;
}
</style>
