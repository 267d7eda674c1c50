<script setup lang="ts">
/** Every pair of number variables, strongest first; any opens as a figure. */
import { computed, ref } from 'vue'
import { client, finished } from '@/api/client'
import type { PairsAnswer } from '@/api/types'
import { pText, shareText } from '@/render/text/numbers'
import { showPair } from '@/kinds/scatterplot/changing'
import SidePanel from '@/components/SidePanel.vue'
import { useFigure } from '@/stores/figure'
import { useAnswer, useKeys } from '@/stores/queries'
import { useStudy } from '@/stores/study'
import { inSentence } from '@/figure-model/words'
import { byOptions } from '@/figure-model/statement/options'
import PairPicture from './PairPicture.vue'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiProgress from '@/ui/UiProgress.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiVariable from '@/ui/UiVariable.vue'

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
const table = computed(() => figure.document?.table ?? studies.openTable)
const variables = computed(() => studies.tableOf(table.value ?? '')?.summary.variables ?? [])
const numbers = computed(() => variables.value.filter(({ kind }) => kind === 'number'))
const groups = computed(() => byOptions(variables.value, null))
const withOptions = computed(() => [
  { value: null, label: 'anything' },
  ...numbers.value.map(({ name, label }) => ({ value: name, label })),
])

const wanted = computed(() => ({
  most: MOST_LISTED,
  table: table.value!,
  method: method.value,
  by: by.value,
  with_variable: withVariable.value,
  rows: figure.document?.rows ?? null,
  set_aside: figure.document?.set_aside ?? [],
}))
const keyOf = useKeys()
const {
  data,
  problem,
  isAsking: waiting,
  done,
  stop,
} = useAnswer(
  () => (table.value ? keyOf('pairs', table.value, wanted.value) : null),
  async (signal, tell) => {
    const { method } = wanted.value
    const answer = await finished<PairsAnswer>(
      client.POST('/api/pairs', {
        params: { header: { prefer: 'respond-async' } },
        body: wanted.value,
      }),
      tell,
      signal,
    )
    return { method, answer }
  },
  { keepsLast: true },
)
// Numbers stand under the sign of the way in which they were found, never under another.
const found = computed(() => data.value ?? null)
const sign = computed(() => METHODS.find(({ value }) => value === found.value?.method)?.sign ?? '')

/** Opened in the place of the figure: undo brings back what was there. */
function open(pair: Pair): void {
  figure.edit((draft) => showPair(draft, pair))
}
</script>

<template>
  <SidePanel heading="Strongest pairs" label="Pairs of variables" data-testid="pairs">
    <UiSelect v-model="method" label="How pairs are measured" :options="METHODS" />
    <UiRow even>
      <UiVariable v-model="withVariable" label="Only pairs with" :options="withOptions" />
      <UiSelect v-model="by" label="Within" :options="groups" />
    </UiRow>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiProgress
      v-else-if="waiting"
      label="Working it out …"
      :share="done || null"
      can-stop
      @stop="stop"
    />
    <template v-if="found && !problem">
      <UiNote>{{ found.answer.caution }}</UiNote>
      <ol class="plain-list pairs" aria-label="Pairs" :class="{ 'pairs--late': waiting }">
        <li v-for="pair in found.answer.pairs" :key="`${pair.x} ${pair.y} ${pair.group}`">
          <UiAction kind="row" class="pair" @click="open(pair)">
            <PairPicture :across="pair.across" :up="pair.up" />
            <span class="pair__names">
              {{ pair.y_label }} and {{ inSentence({ label: pair.x_label })
              }}<template v-if="pair.group"> · {{ pair.group }}</template>
            </span>
            <strong class="clipped"
              >{{ sign }} = {{ pair.r === null ? '–' : shareText(pair.r) }}</strong
            >
            <span class="pair__more quiet">
              <template v-if="pair.low !== null && pair.high !== null"
                >{{ shareText(pair.low) }} to {{ shareText(pair.high) }}, </template
              >n = {{ pair.n
              }}<template v-if="pair.p_value !== null">, p {{ pText(pair.p_value) }}</template
              ><template v-if="pair.p_adjusted !== null"
                >, adjusted {{ pText(pair.p_adjusted) }}</template
              >
            </span>
          </UiAction>
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

.pair :deep(.v-btn__content) {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr) auto;
  gap: 0 8px;
  padding: 4px;
}

.pair :deep(svg) {
  grid-row: span 2;
}

.pair__more {
  grid-column: 2 / -1;
}
</style>
