<script setup lang="ts">
/** What the numbers say. */
import { computed } from 'vue'
import { blankTrend } from '@/api/blank'
import { USUAL_FAMILY } from '@/model/families'
import { toHex } from '@/drawing/colours'
import type { Part } from '@/drawing/scene'
import { trendColour } from '@/drawing/parts/trend-style'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import AssociationCard from './AssociationCard.vue'
import CautionCard from './CautionCard.vue'
import FitCard from './FitCard.vue'
import OnFigure from './OnFigure.vue'
import TakeReadings from './TakeReadings.vue'
import UiAction from '@/ui/UiAction.vue'

const emit = defineEmits<{ rows: [rows: number[], title: string]; file: [file: File] }>()

const figure = useFigure()
const side = useSide()
const answer = computed(() => figure.drawn?.answer ?? null)
/** What the answer is an answer to: while another is worked out, that is not yet what is wanted. */
const document = computed(() => figure.drawn?.document ?? figure.document!)

/** Every part that can be clicked on the figure, for those who do not click. */
const tunable = computed((): { part: Part; label: string }[] => [
  { part: 'marks', label: 'marks' },
  { part: 'x-axis', label: 'axis across' },
  { part: 'y-axis', label: 'axis up' },
  ...(answer.value?.colour || answer.value?.size
    ? [{ part: 'legend' as const, label: 'legend' }]
    : []),
  ...document.value.trends.map((_, i) => ({
    part: `trend-${i}` as const,
    label: document.value.trends.length > 1 ? `trend ${i + 1}` : 'trend',
  })),
  { part: 'title', label: 'words' },
])

function addLine(): void {
  figure.edit((draft) => {
    draft.trends.push(blankTrend(USUAL_FAMILY, null))
  })
}
</script>

<template>
  <section class="cards" aria-label="Readings">
    <AssociationCard v-if="answer?.association" :association="answer.association" />
    <div v-if="!document.trends.length && answer" class="card">
      <p class="quiet">No trend is fitted.</p>
      <UiAction kind="words" @click="addLine">Fit a straight line</UiAction>
    </div>
    <CautionCard
      v-for="(caution, i) in answer?.cautions ?? []"
      :key="`caution ${i}`"
      :caution="caution"
      @rows="(rows, title) => emit('rows', rows, title)"
    />
    <div v-for="text in answer?.problems ?? []" :key="text" class="wrong">{{ text }}</div>
    <FitCard
      v-for="(trend, i) in answer?.trends ?? []"
      :key="`fit ${i}`"
      :trend="trend"
      :colour="toHex(trendColour(document, answer!, trend))"
      :several="(figure.drawn?.document.trends.length ?? 0) > 1"
    />
    <div v-for="one in answer?.slopes ?? []" :key="one.sentence" class="card">
      {{ one.sentence }}
    </div>
    <OnFigure v-if="document.trends.length" />
    <div v-if="document.trends.length" class="beside">
      <span class="quiet">Look closer:</span>
      <UiAction kind="words" @click="side.show({ kind: 'compare', trend: 0, group: null })">
        compare forms
      </UiAction>
      <UiAction
        kind="words"
        :aria-expanded="side.residuals !== null"
        @click="side.residuals = side.residuals === null ? 0 : null"
      >
        residuals
      </UiAction>
    </div>
    <TakeReadings v-if="answer && document.trends.length" @file="(file) => emit('file', file)" />
    <div v-if="answer" class="beside">
      <span class="quiet">Tune:</span>
      <UiAction
        v-for="{ part, label } in tunable"
        :key="part"
        kind="words"
        @click="side.tune(part)"
      >
        {{ label }}
      </UiAction>
    </div>
  </section>
</template>
