<script setup lang="ts">
/** Why a table that has just arrived starts with its figure, and other pairs, each a click away. */
import { computed, ref } from 'vue'
import { Problem } from '@/api/client'
import type { TableId } from '@/api/references'
import type { TableTaken } from '@/api/types'
import { showPair } from '@/kinds/scatterplot/changing'
import { inSentence } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import { useAnswer, useKeys } from '@/stores/queries'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import PairPicture from './PairPicture.vue'

const props = defineProps<{ table: TableId }>()
const emit = defineEmits<{ taken: [made: TableTaken] }>()

const MOST = 6

const figure = useFigure()
const side = useSide()
const studies = useStudy()
const keyOf = useKeys()
const { data: found } = useAnswer(
  () => keyOf('suggestions', props.table),
  (signal) => studies.suggestions(props.table, signal),
)
const others = computed(() =>
  (found.value?.pairs ?? [])
    .filter(({ x, y }) => x !== figure.document?.x || y !== figure.document.y[0])
    .slice(0, MOST),
)

/** Columns that could be one variable. */
const repeated = computed(() => found.value?.repeated)
const busy = ref(false)
const problem = ref('')

async function stack(): Promise<void> {
  const { variables, name } = repeated.value!
  busy.value = true
  problem.value = ''
  try {
    const { table } = props
    const made = { shape: 'stack', table, variables, name, value: 'value', numbered: true } as const
    emit('taken', await studies.shapeTable(made))
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  } finally {
    busy.value = false
  }
}

const shown = () => JSON.stringify([figure.document?.kind, figure.document?.x, figure.document?.y])
const first = shown()
/** Why this figure: said as long as it is the one that the table started with. */
const why = computed(() => (shown() === first ? found.value?.why : ''))
</script>

<template>
  <section v-if="others.length || why || repeated" class="card worth" aria-label="The first figure">
    <header class="worth__head">
      <h2 class="cards__title">{{ why ? 'Why this figure' : 'Other pairs worth a look' }}</h2>
      <UiAction kind="words" label="Close other pairs" @click="side.arrived = null">Close</UiAction>
    </header>
    <template v-if="why">
      <p class="worth__why">{{ why }}</p>
      <h3 v-if="others.length" class="cards__title">Other pairs worth a look</h3>
    </template>
    <template v-if="repeated">
      <p class="worth__why">
        {{ repeated.variables[0] }} to {{ repeated.variables.at(-1) }} look like one measurement in
        {{ repeated.variables.length }} columns. Stacked, they are one variable against
        {{ repeated.name }}.
      </p>
      <UiAction :busy="busy" @click="stack">Stack them into a new table</UiAction>
      <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    </template>
    <ul class="plain-list worth__list">
      <li v-for="pair in others" :key="`${pair.x} ${pair.y}`">
        <UiAction kind="row" @click="figure.edit((draft) => showPair(draft, pair))">
          <PairPicture :across="pair.across" :up="pair.up" :width="80" :height="52" />
          <span class="worth__words"
            >{{ pair.y_label }} against {{ inSentence({ label: pair.x_label }) }}</span
          >
        </UiAction>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.worth {
  margin-bottom: 8px;
}

.worth__head {
  display: flex;
  justify-content: space-between;
  gap: 8px;
}

.worth__why {
  margin: 4px 0 10px;
}

.worth__list {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px;
  margin-top: 8px;
}

.worth__words {
  display: block;
  overflow-wrap: anywhere;
}
</style>
