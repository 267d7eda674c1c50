<script setup lang="ts">
/** A distribution: what is shown in its lanes, and how. */
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { BINS, LANES, MIDDLE, SHOWN } from '@/figure-model/controls/distribution'

const figure = useFigure()

/** Width, start and bandwidth as they are found from the values. */
const asFound = () =>
  figure.edit((draft) =>
    Object.assign(draft.distribution!, { bin_width: null, bin_start: null, bandwidth: null }),
  )
</script>

<template>
  <Controls :of="SHOWN" />
  <UiSection heading="Groups"><Controls :of="LANES" /></UiSection>
  <UiSection heading="Bins and smoothing">
    <Controls :of="BINS" />
    <UiAction kind="words" @click="asFound">As found from the values</UiAction>
  </UiSection>
  <Controls :of="MIDDLE" />
</template>
