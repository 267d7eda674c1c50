<script setup lang="ts">
/** What the numbers say. */
import { computed, ref } from 'vue'
import type { OnFigure as OnFigureReading, TrendAnswer } from '@/api/types'
import { toHex } from '@/render/colours'
import { trendColour } from '@/render/parts/trend-style'
import { kindOf } from '@/kinds'
import { fitsOf } from '@/render/fits'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import AssociationCard from './AssociationCard.vue'
import AtAGlance from './AtAGlance.vue'
import AtHand from './AtHand.vue'
import CautionCard from './CautionCard.vue'
import FitCard from './FitCard.vue'
import TakeReadings from './TakeReadings.vue'
import UiAction from '@/ui/UiAction.vue'
import UiRow from '@/ui/UiRow.vue'

const emit = defineEmits<{ rows: [rows: number[], title: string]; file: [file: File] }>()

const figure = useFigure()
const side = useSide()
const answer = computed(() => figure.drawn?.answer ?? null)
/** What the answer is an answer to: while another is worked out, that is not yet what is wanted. */
const document = computed(() => figure.drawn?.document ?? figure.document!)

/** Whether the comparison of each two lines is open. */
const showsPairs = ref(false)

const fitted = computed(() => kindOf(document.value).fitted!)
const isFitted = computed(() => fitted.value.of(document.value).length > 0)
const fits = computed(() => (answer.value ? fitsOf(answer.value) : []))
/** Fits what the kind begins with, and says on the figure what is wanted there. */
const fit = (shown: OnFigureReading[]): void =>
  figure.edit((draft) => {
    fitted.value.add(draft)
    for (const one of fitted.value.of(draft)) one.on_figure = shown
  })
const colourOf = (trend: TrendAnswer): string =>
  toHex(trendColour(document.value, answer.value!, trend))
</script>

<template>
  <section class="cards" aria-label="Readings">
    <AssociationCard v-if="answer?.association" :association="answer.association" />
    <AtAGlance v-if="fits.length > 1" :fits="fits" :colour-of="colourOf" />
    <FitCard v-else-if="fits.length" :trend="fits[0]" :colour="colourOf(fits[0])" />
    <div v-if="!isFitted && (answer?.counts.drawn ?? 0) > 1" class="card">
      <p class="quiet">No trend is fitted.</p>
      <UiRow>
        <UiAction kind="main" @click="fit(['equation', 'r_squared'])">
          {{ fitted.offer }} (equation and R² shown)
        </UiAction>
        <UiAction @click="fit([])">Line only</UiAction>
      </UiRow>
    </div>
    <CautionCard
      v-for="(caution, i) in answer?.cautions ?? []"
      :key="`caution ${i}`"
      :caution="caution"
      @rows="(rows, title) => emit('rows', rows, title)"
    />
    <div v-for="text in answer?.problems ?? []" :key="text" class="wrong">{{ text }}</div>
    <template v-if="fits.length > 1">
      <FitCard
        v-for="(trend, i) in fits"
        :key="`fit ${i}`"
        :trend="trend"
        :colour="colourOf(trend)"
        :several="(figure.drawn?.document.trends.length ?? 0) > 1"
      />
    </template>
    <section
      v-for="one in answer?.slopes ?? []"
      :key="one.sentence"
      class="card"
      aria-label="Slopes compared"
    >
      <p v-if="one.adjusted">{{ one.adjusted }}</p>
      <p>{{ one.sentence }}</p>
      <template v-if="one.pairs.length">
        <UiAction kind="words" :aria-expanded="showsPairs" @click="showsPairs = !showsPairs">
          Compare lines in pairs
        </UiAction>
        <ul v-if="showsPairs" class="between">
          <li v-for="pair in one.pairs" :key="pair.sentence">{{ pair.sentence }}</li>
        </ul>
      </template>
    </section>
    <section v-if="answer?.differences.length" class="card" aria-label="Between groups">
      <h2 class="cards__title">Between groups</h2>
      <ul class="between">
        <li v-for="one in answer.differences" :key="one.sentence">{{ one.sentence }}</li>
      </ul>
    </section>
    <div v-if="isFitted" class="beside" role="group" aria-label="Check the fit">
      <span class="quiet">Check the fit:</span>
      <UiAction
        v-if="fitted.isCompared"
        :off="figure.needsRows"
        @click="side.show({ kind: 'compare', trend: 0, group: null })"
      >
        Compare trends
      </UiAction>
      <UiAction
        :off="figure.needsRows"
        :pressed="side.residuals !== null"
        @click="side.residuals = side.residuals === null ? 0 : null"
      >
        Residuals
      </UiAction>
    </div>
    <TakeReadings v-if="answer && isFitted" @file="(file) => emit('file', file)" />
    <AtHand :is-fitted="isFitted" />
  </section>
</template>

<style scoped>
.between {
  display: grid;
  gap: 4px;
  margin: 4px 0 0;
  padding-left: 16px;
}
</style>
