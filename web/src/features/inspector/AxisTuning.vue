<script setup lang="ts">
/** An axis: its title, ends and scale, its ticks and their labels, its line and gridlines. */
import { computed } from 'vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { useFigure } from '@/stores/figure'
import { axisControls, type Side } from '@/figure-model/controls/axes'
import { swapAxes } from '@/kinds/scatterplot/changing'
import { kindOf } from '@/kinds'
import UiAction from '@/ui/UiAction.vue'
import Lettering from './Lettering.vue'
import ReferenceList from './ReferenceList.vue'

const props = defineProps<{ axis: Side }>()

const own = axisControls(props.axis)
const figure = useFigure()
/** Whether one variable goes across and one up. */
const isOfPair = computed(() => {
  const { document } = figure
  return Boolean(document && kindOf(document).isOfPair && document.y.length === 1)
})
/** The axis of a plot on which lines can stand at values. */
const plotted = computed(() =>
  props.axis === 'depth' || figure.drawn?.answer.space ? null : props.axis,
)
</script>

<template>
  <Controls :of="own.title" />
  <UiRow even><Controls :of="own.ends" /></UiRow>
  <UiNote>
    Leave an end blank to fit the data. ^ makes superscript, _ subscript: m^2, CO_2; &amp;mu; gives
    μ.
  </UiNote>
  <Controls :of="own.scale" />
  <UiSection heading="Ticks and their labels">
    <UiRow even><Controls :of="own.tickPlaces" /></UiRow>
    <Controls :of="own.ticks" />
    <UiRow even><Controls :of="own.tickWords" /></UiRow>
    <Controls :of="[own.labels]" />
  </UiSection>
  <UiSection heading="Axis lines and crossing point"><Controls :of="own.lines" /></UiSection>
  <UiAction v-if="isOfPair" kind="words" @click="figure.edit(swapAxes)">Swap the axes</UiAction>
  <Lettering part="tick_labels" />
  <Lettering part="axis_titles" />
  <template v-if="plotted">
    <Controls :of="[own.margin]" />
    <ReferenceList :axis="plotted" />
  </template>
</template>
