<script setup lang="ts">
/** A trend: its form, its bands, how its line is drawn, and what is read off it. */
import { computed } from 'vue'
import { blankSize } from '@/figure-model/blank'
import OnFigure from '@/components/OnFigure.vue'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import BandList from './BandList.vue'
import Controls from './Controls.vue'
import { READINGS, trendControls } from '@/figure-model/controls/trends'
import FormTuning from './FormTuning.vue'
import Lettering from './Lettering.vue'
import ReadOffList from './ReadOffList.vue'

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const side = useSide()
const document = computed(() => figure.document!)
const trend = computed(() => document.value.trends[props.trend])
const own = computed(() => trendControls(props.trend))

function sizeByInfluence(): void {
  figure.edit((draft) => {
    draft.size = draft.size?.influence
      ? null
      : { ...blankSize(''), variable: null, influence: true, largest: 24 }
  })
}

function remove(): void {
  side.rest()
  side.residuals = null
  figure.edit((draft) => {
    draft.trends.splice(props.trend, 1)
  })
}
</script>

<template>
  <template v-if="trend">
    <Controls :of="[own.form]" />
    <FormTuning :trend="props.trend" />
    <UiRow>
      <UiAction
        :off="figure.needsRows"
        @click="side.show({ kind: 'compare', trend: props.trend, group: null })"
      >
        Compare trends
      </UiAction>
      <UiAction
        :off="figure.needsRows"
        :pressed="side.residuals === props.trend"
        @click="side.residuals = side.residuals === props.trend ? null : props.trend"
      >
        Residuals
      </UiAction>
      <UiAction
        :off="figure.needsRows"
        :pressed="document.size?.influence ?? false"
        @click="sizeByInfluence"
      >
        Show influence on marks
      </UiAction>
    </UiRow>
    <BandList :trend="props.trend" />
    <Controls :of="[own.level]" />
    <Controls :of="own.errors" />
    <UiSection heading="Read off">
      <div class="cards" :data-lit="side.sought === 'read off' || undefined">
        <ReadOffList :trend="props.trend" />
      </div>
    </UiSection>
    <UiSection heading="Extrapolate">
      <UiRow even><Controls :of="own.carry" /></UiRow>
    </UiSection>
    <UiSection heading="Line and band">
      <Controls :of="own.line" />
      <Controls :of="own.band" />
    </UiSection>
    <UiSection heading="Equation and readings on the figure">
      <OnFigure :trend="props.trend" :data-lit="side.sought === 'on the figure' || undefined" />
      <Controls :of="own.equation" />
      <Controls :of="READINGS" />
    </UiSection>
    <Lettering part="readings" />
    <UiSection heading="Weights"><Controls :of="own.weights" /></UiSection>
    <UiAction kind="words" @click="remove">Remove trend</UiAction>
  </template>
</template>
