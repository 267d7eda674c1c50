<script setup lang="ts">
/** What a scatterplot matrix says, and the way to its pairs. */
import { computed } from 'vue'
import { shareText } from '@/drawing/text/numbers'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { grouped } from '@/model/words'

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
  <section v-if="matrix" class="readings" aria-label="Readings">
    <article class="card said">
      <h2 class="said__title">Strongest of these pairs</h2>
      <dl class="said__pairs">
        <template v-for="cell in strongest" :key="`${cell.x} ${cell.y}`">
          <dt>{{ label(cell.y) }} and {{ label(cell.x).toLowerCase() }}</dt>
          <dd>r = {{ shareText(cell.r!) }}</dd>
        </template>
      </dl>
      <button type="button" class="link" @click="side.show({ kind: 'pairs' })">
        All pairs of the table
      </button>
    </article>
    <article class="card said">
      <p v-if="complete">
        Only the {{ grouped(matrix.complete) }} of {{ grouped(matrix.rows) }} rows that have every
        variable are shown.
      </p>
      <p v-else>
        Each pair shows the rows that have both: {{ grouped(matrix.complete) }} of
        {{ grouped(matrix.rows) }} rows have every variable.
      </p>
      <p class="quiet">
        Many pairs were looked at: some would seem to go together by chance alone. The list of pairs
        allows for that.
      </p>
    </article>
    <div class="placed">
      <span class="quiet">Tune:</span>
      <button type="button" class="link" @click="side.tune('matrix')">matrix</button>
      <button
        v-if="figure.drawn?.answer.colour"
        type="button"
        class="link"
        @click="side.tune('legend')"
      >
        legend
      </button>
      <button type="button" class="link" @click="side.tune('title')">words</button>
    </div>
  </section>
</template>

<style scoped>
.readings {
  display: grid;
  gap: 8px;
}

.said {
  font-size: 14px;
  line-height: 1.38;
  display: grid;
  gap: 6px;
  justify-items: start;
}

.said__title {
  font-size: 15px;
  font-weight: 600;
}

.said__pairs {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 12px;
  margin: 0;
  width: 100%;
}

.said__pairs dd {
  margin: 0;
  white-space: nowrap;
}

.placed {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 7px;
  font-size: 14px;
  padding: 0 2px;
}
</style>
