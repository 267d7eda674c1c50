<script setup lang="ts">
/** What a scatterplot matrix says, and the way to its pairs. */
import { computed } from 'vue'
import { shareText } from '@/render/text/numbers'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { grouped, inSentence } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'
import AtHand from './AtHand.vue'
import CautionCard from './CautionCard.vue'

const MOST = 6

const figure = useFigure()
const side = useSide()
const matrix = computed(() => figure.drawn?.answer.matrix ?? null)
const strongest = computed(() =>
  (matrix.value?.cells ?? [])
    .filter(({ x, y, r }) => y > x && r !== null)
    .sort((a, b) => Math.abs(b.r!) - Math.abs(a.r!))
    .slice(0, MOST),
)
const label = (place: number): string => matrix.value!.variables[place].label
const complete = computed(() => figure.document?.matrix?.missing === 'complete')
</script>

<template>
  <section v-if="matrix" class="cards" aria-label="Readings">
    <CautionCard
      v-for="caution in figure.drawn?.answer.cautions ?? []"
      :key="caution.title"
      :caution="caution"
    />
    <article class="card cards">
      <h2 class="cards__title">Strongest of these pairs</h2>
      <dl class="numbers">
        <template v-for="cell in strongest" :key="`${cell.x} ${cell.y}`">
          <dt>{{ label(cell.y) }} and {{ inSentence({ label: label(cell.x) }) }}</dt>
          <dd>r = {{ shareText(cell.r!) }}</dd>
        </template>
      </dl>
      <UiAction kind="words" @click="side.show({ kind: 'pairs' })">
        All pairs of the table
      </UiAction>
    </article>
    <article class="card cards">
      <p v-if="complete">
        Only the {{ grouped(matrix.complete) }} of {{ grouped(matrix.rows) }} rows that have every
        variable are shown.
      </p>
      <p v-else>
        Each pair shows the rows that have both: {{ grouped(matrix.complete) }} of
        {{ grouped(matrix.rows) }} rows have every variable.
      </p>
      <p class="quiet">
        With many pairs, some seem related by chance alone. The list of pairs adjusts for that.
      </p>
    </article>
    <AtHand />
  </section>
</template>
