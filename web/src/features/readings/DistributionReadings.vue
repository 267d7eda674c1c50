<script setup lang="ts">
/** What a distribution says: each group's numbers, and how the groups differ. */
import { computed, ref } from 'vue'
import { toHex } from '@/render/colours'
import { colourOfSpread } from '@/render/layout/distribution'
import { levelText, pText, short } from '@/render/text/numbers'
import { countOf, grouped, unbroken } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import CautionCard from './CautionCard.vue'
import AtHand from './AtHand.vue'

const emit = defineEmits<{ rows: [rows: number[], title: string] }>()

const figure = useFigure()
const answer = computed(() => figure.drawn?.answer ?? null)
const spread = computed(() => answer.value?.distribution ?? null)
const unit = computed(() => answer.value?.y.variable.unit ?? '')
const opened = ref<string | null>(null)
const pairs = ref(false)

type Group = NonNullable<typeof spread.value>['groups'][number]

const number = (value: number | null): string => (value === null ? 'none' : short(value))
const between = ({ low, high }: { low: number | null; high: number | null }): string =>
  low === null || high === null ? 'too few rows' : `${short(low)} to ${short(high)}`
const nameOf = (group: Group): string => group.group ?? 'All rows'
const colourOf = (group: Group): string =>
  toHex(colourOfSpread(figure.drawn!.document, answer.value!, group))
const level = computed(() => levelText(spread.value?.level ?? 0.95))

const main = (group: Group): [string, string][] => [
  ['Mean', number(group.mean.value)],
  ['n', grouped(group.n)],
  ['Median', number(group.median.value)],
  ['SD', number(group.sd)],
]
const more = (group: Group): [string, string][] => [
  [`Mean, ${level.value} interval`, between(group.mean)],
  [`Median, ${level.value} interval`, between(group.median)],
  ['Middle half', `${short(group.box[1])} to ${short(group.box[3])}`],
  ['Smallest and largest', `${short(group.low)} and ${short(group.high)}`],
  ['Skewness', number(group.skewness)],
]
</script>

<template>
  <section v-if="answer && spread" class="cards" aria-label="Readings">
    <CautionCard
      v-for="(caution, i) in answer.cautions"
      :key="`caution ${i}`"
      :caution="caution"
      @rows="(rows, title) => emit('rows', rows, title)"
    />
    <div v-for="text in answer.problems" :key="text" class="wrong">{{ text }}</div>
    <article v-if="spread.sentences.length" class="card cards">
      <p v-for="text in spread.sentences" :key="text">{{ unbroken(text) }}</p>
      <template v-if="spread.compared.length">
        <UiAction kind="words" :aria-expanded="pairs" @click="pairs = !pairs">
          {{ pairs ? 'Less' : 'Every pair' }}
        </UiAction>
        <dl v-if="pairs" class="numbers">
          <template v-for="one in spread.compared" :key="one.first + one.second">
            <dt>{{ one.second }} over {{ one.first }}, mean</dt>
            <dd>
              {{ number(one.means.value) }} ({{ between(one.means)
              }}{{ one.means_p === null ? '' : `, p ${pText(one.means_p)}` }})
            </dd>
            <dt>by ranks</dt>
            <dd>
              {{ number(one.shift.value) }} ({{ between(one.shift)
              }}{{ one.shift_p === null ? '' : `, p ${pText(one.shift_p)}` }})
            </dd>
          </template>
        </dl>
      </template>
    </article>
    <article
      v-for="group in spread.groups"
      :key="nameOf(group)"
      class="card cards spread"
      :aria-label="`Readings of ${nameOf(group)}`"
    >
      <h2 class="cards__title spread__title">
        <span class="spread__sign sample" :style="{ '--of': colourOf(group) }" />
        {{ nameOf(group) }}
        <span v-if="unit" class="quiet">{{ unit }}</span>
      </h2>
      <dl class="numbers spread__numbers">
        <div v-for="[label, value] in main(group)" :key="label">
          <dt>{{ label }}</dt>
          <dd>{{ value }}</dd>
        </div>
      </dl>
      <p v-if="group.far.length">
        {{ countOf(group.far.length, 'outlier') }} (beyond 1.5 × IQR).
        <UiAction
          kind="words"
          :label="`Show the outliers of ${nameOf(group)} in the table`"
          @click="emit('rows', group.far, `Outliers in ${nameOf(group)}`)"
        >
          Show
        </UiAction>
      </p>
      <UiAction
        kind="words"
        :aria-expanded="opened === nameOf(group)"
        @click="opened = opened === nameOf(group) ? null : nameOf(group)"
      >
        {{ opened === nameOf(group) ? 'Less' : 'Intervals and shape' }}
      </UiAction>
      <dl v-if="opened === nameOf(group)" class="numbers">
        <template v-for="[label, value] in more(group)" :key="label">
          <dt>{{ label }}</dt>
          <dd>{{ value }}</dd>
        </template>
      </dl>
    </article>
    <AtHand />
  </section>
</template>

<style scoped>
.spread {
  padding: 8px 12px;
  font-size: var(--text-small);
}

.spread__title {
  display: flex;
  align-items: center;
  gap: 8px;
}

.spread__sign {
  width: 12px;
  height: 12px;
  border-radius: var(--radius);
}

.spread__numbers {
  grid-template-columns: 1fr 1fr;
  column-gap: 24px;
}

.spread__numbers div {
  display: flex;
  justify-content: space-between;
}
</style>
