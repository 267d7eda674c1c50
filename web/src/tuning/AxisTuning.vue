<script setup lang="ts">
/** An axis: its title, ends and scale, its ticks and their labels, its line and gridlines. */
import { computed } from 'vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { useFigure } from '@/stores/figure'
import { axisControls, type Side } from './controls/axes'
import Lettering from './Lettering.vue'
import ReferenceList from './ReferenceList.vue'

const props = defineProps<{ axis: Side }>()

const own = axisControls(props.axis)
const figure = useFigure()
/** The axis of a plot on which lines can stand at values. */
const plotted = computed(() =>
  props.axis === 'depth' || figure.drawn?.answer.space ? null : props.axis,
)
</script>

<template>
  <Controls :of="own.title" />
  <UiRow even><Controls :of="own.ends" /></UiRow>
  <UiNote>
    An empty end hugs the data. Raise text with ^ and lower it with _, as in m^2; &amp;mu; gives μ.
  </UiNote>
  <Controls :of="own.scale" />
  <UiSection heading="Ticks and their labels">
    <UiRow even><Controls :of="own.tickPlaces" /></UiRow>
    <Controls :of="own.ticks" />
    <UiRow even><Controls :of="own.tickWords" /></UiRow>
    <Controls :of="[own.labels]" />
  </UiSection>
  <UiSection heading="Lines and where they cross"><Controls :of="own.lines" /></UiSection>
  <Lettering part="tick_labels" />
  <Lettering part="axis_titles" />
  <template v-if="plotted">
    <Controls :of="[own.margin]" />
    <ReferenceList :axis="plotted" />
  </template>
</template>
