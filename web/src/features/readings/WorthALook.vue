<script setup lang="ts">
/** Other pairs of a table that has just arrived: small pictures, each a click away. */
import { computed } from 'vue'
import type { TableId } from '@/api/references'
import { showPair } from '@/kinds/scatterplot/changing'
import { inSentence } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import { useAnswer, useKeys } from '@/stores/queries'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import PairPicture from './PairPicture.vue'

const props = defineProps<{ table: TableId }>()

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
  (found.value ?? [])
    .filter(({ x, y }) => x !== figure.document?.x || y !== figure.document.y[0])
    .slice(0, MOST),
)
</script>

<template>
  <section v-if="others.length" class="card worth" aria-label="Other pairs worth a look">
    <header class="worth__head">
      <h2 class="cards__title">Other pairs worth a look</h2>
      <UiAction kind="words" label="Close other pairs" @click="side.arrived = null">Close</UiAction>
    </header>
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
