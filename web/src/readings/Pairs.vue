<script setup lang="ts">
/** Every pair of number variables, strongest first; any opens as a figure. */
import { computed, ref, shallowRef, watch } from 'vue'
import { client, finished, Problem } from '@/api/client'
import type { PairsAnswer } from '@/api/types'
import { pText, shareText } from '@/drawing/text/numbers'
import { latest, OVERTAKEN } from '@/latest'
import SidePanel from '@/SidePanel.vue'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import { byOptions } from '@/statement/options'

type Pair = PairsAnswer['pairs'][number]

const METHODS = [
  { value: 'pearson', label: 'r (straight lines)', sign: 'r' },
  { value: 'spearman', label: 'ρ (ranks)', sign: 'ρ' },
  { value: 'kendall', label: 'τ (order)', sign: 'τ' },
  { value: 'distance', label: 'distance (bends, too)', sign: 'd' },
] as const

const MOST_LISTED = 500

type Method = (typeof METHODS)[number]['value']

const figure = useFigure()
const studies = useStudy()
const method = ref<Method>('pearson')
const by = ref<string | null>(null)
const withVariable = ref<string | null>(null)
const found = shallowRef<{ method: Method; answer: PairsAnswer } | null>(null)
const question = latest()
/** The share of the pairs that was looked at, while they are. */
const done = ref(0)
const problem = ref('')
const waiting = ref(false)
const sign = computed(() => METHODS.find(({ value }) => value === found.value?.method)?.sign ?? '')
const table = computed(() => figure.document?.table ?? studies.openTable)
const variables = computed(() => studies.tableOf(table.value ?? '')?.summary.variables ?? [])
const numbers = computed(() => variables.value.filter(({ kind }) => kind === 'number'))
const groups = computed(() => byOptions(variables.value, null))

watch(
  () => [
    method.value,
    by.value,
    withVariable.value,
    table.value,
    JSON.stringify([figure.document?.rows, figure.document?.set_aside]),
  ],
  async () => {
    waiting.value = true
    done.value = 0
    problem.value = ''
    const asked = {
      most: MOST_LISTED,
      table: table.value!,
      method: method.value,
      by: by.value,
      with_variable: withVariable.value,
      rows: figure.document?.rows ?? null,
      set_aside: figure.document?.set_aside ?? [],
    }
    try {
      const answer = await question.ask((signal) =>
        finished<PairsAnswer>(
          client.POST('/api/pairs', {
            params: { header: { prefer: 'respond-async' } },
            body: asked,
          }),
          (share) => (done.value = share),
          signal,
        ),
      )
      if (answer === OVERTAKEN) return
      // Numbers stand under the sign of the way in which they were found, never under another.
      found.value = { method: asked.method, answer }
    } catch (error) {
      if (error instanceof Problem) problem.value = error.sentence
      else throw error
      found.value = null
    } finally {
      if (!question.isOpen()) waiting.value = false
    }
  },
  { immediate: true },
)

function stop(): void {
  question.drop()
  waiting.value = false
  problem.value = 'Stopped.'
}

/** Opened in the place of the figure: undo brings back what was there. */
function open(pair: Pair): void {
  figure.edit((draft) => {
    draft.kind = 'scatterplot'
    draft.x = pair.x
    draft.y = [pair.y]
    draft.trends = draft.trends.map((trend) => ({ ...trend, read_off: [] }))
    for (const axis of [draft.axes.x, draft.axes.y]) {
      axis.low = axis.high = axis.title = axis.step = axis.crosses = null
      axis.positions = []
    }
  })
}

const picture = ({ across, up }: Pair): string =>
  across.map((x, i) => `M${(2 + x * 36).toFixed(1)} ${(26 - up[i] * 24).toFixed(1)}h.01`).join('')

const typed = (event: Event): string | null => (event.target as HTMLSelectElement).value || null
</script>

<template>
  <SidePanel heading="Pairs, strongest first" label="Pairs of variables" data-testid="pairs">
    <label class="field">
      By
      <select v-model="method" aria-label="How pairs are measured">
        <option v-for="one in METHODS" :key="one.value" :value="one.value">{{ one.label }}</option>
      </select>
    </label>
    <div class="panel__two">
      <label class="field">
        What goes with
        <select
          aria-label="Only pairs with"
          :value="withVariable ?? ''"
          @change="withVariable = typed($event)"
        >
          <option value="">anything</option>
          <option v-for="{ name, label } in numbers" :key="name" :value="name">{{ label }}</option>
        </select>
      </label>
      <label class="field">
        For
        <select aria-label="Within" :value="by ?? ''" @change="by = typed($event)">
          <option v-for="one in groups" :key="one.value ?? ''" :value="one.value ?? ''">
            {{ one.label }}
          </option>
        </select>
      </label>
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <p v-else-if="waiting" class="quiet" role="status">
      Working it out … {{ done ? shareText(done) : '' }}
      <button type="button" class="link" @click="stop">Stop</button>
    </p>
    <template v-if="found && !problem">
      <p class="caution-text">{{ found.answer.caution }}</p>
      <ol class="pairs" aria-label="Pairs" :class="{ 'pairs--late': waiting }">
        <li v-for="pair in found.answer.pairs" :key="`${pair.x} ${pair.y} ${pair.group}`">
          <button type="button" class="pair" @click="open(pair)">
            <svg viewBox="0 0 40 28" width="40" height="28" aria-hidden="true">
              <path
                :d="picture(pair)"
                fill="none"
                stroke="currentColor"
                stroke-width="2"
                stroke-linecap="round"
              />
            </svg>
            <span class="pair__names">
              {{ pair.y_label }} and {{ pair.x_label.toLowerCase()
              }}<template v-if="pair.group"> · {{ pair.group }}</template>
            </span>
            <span class="pair__r"
              >{{ sign }} = {{ pair.r === null ? '–' : shareText(pair.r) }}</span
            >
            <span class="pair__more">
              <template v-if="pair.low !== null && pair.high !== null"
                >{{ shareText(pair.low) }} to {{ shareText(pair.high) }}, </template
              >n = {{ pair.n
              }}<template v-if="pair.p_value !== null">, p {{ pText(pair.p_value) }}</template
              ><template v-if="pair.p_adjusted !== null"
                >, adjusted {{ pText(pair.p_adjusted) }}</template
              >
            </span>
          </button>
        </li>
      </ol>
    </template>
  </SidePanel>
</template>

<style scoped>
/* What was found in another way, until the answer to this one is there. */
.pairs--late {
  opacity: 0.45;
}

.pairs {
  list-style: none;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 2px;
}

.pair {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr) auto;
  gap: 0 8px;
  width: 100%;
  text-align: left;
  cursor: pointer;
  padding: 3px 4px;
  border-radius: 6px;
  font-size: 14px;
  color: var(--ink);
}

.pair:hover {
  background: var(--chosen);
}

.pair svg {
  grid-row: span 2;
  color: var(--accent);
}

.pair__r {
  font-weight: 600;
  white-space: nowrap;
}

.pair__more {
  grid-column: 2 / -1;
  font-size: 12.5px;
  color: var(--soft-ink);
}

.caution-text,
.problem {
  font-size: 13.5px;
  line-height: 1.35;
  color: var(--soft-ink);
}

.problem {
  color: var(--caution);
}
</style>
