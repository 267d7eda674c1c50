<script setup lang="ts">
/** An axis: its title, ends and scale, its ticks and their labels, its line and gridlines. */
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { axisControls } from './controls/axes'
import Lettering from './Lettering.vue'
import ReferenceList from './ReferenceList.vue'

const props = defineProps<{ axis: 'x' | 'y' }>()

const own = axisControls(props.axis)
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
  <Controls :of="[own.margin]" />
  <ReferenceList :axis="props.axis" />
</template>
