<script setup lang="ts">
/** All marks: shape, size, colour, opacity, and what tells apart those that share a place. */
import { computed } from 'vue'
import { MANY } from '@/render/marks/crowding'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import ColourTuning from './ColourTuning.vue'
import Controls from './Controls.vue'
import { barControls } from '@/figure-model/controls/bars'
import * as marks from '@/figure-model/controls/marks'
import Lettering from './Lettering.vue'
import SizeTuning from './SizeTuning.vue'

const figure = useFigure()
const document = computed(() => figure.document!)
const bars = [barControls('y'), barControls('x')]
const isShaded = computed(() => {
  const { density } = document.value.marks
  return density === 'on' || (density === 'auto' && (figure.drawn?.answer.counts.drawn ?? 0) > MANY)
})
const hasMoved = computed(() => Object.keys(document.value.names?.moved ?? {}).length > 0)
</script>

<template>
  <UiNote v-if="isShaded" role="status">
    With this many points, density is shaded. Shape, size and opacity apply once fewer points are in
    view, or with density shading set to “never” below.
  </UiNote>
  <Controls :of="marks.SHAPE_AND_TEXT" />
  <Controls :of="[marks.SIZE_OF_ALL]" />
  <SizeTuning v-if="document.size" />
  <Controls :of="marks.LOOK" />
  <UiAction
    v-if="document.marks.opacity !== null"
    kind="words"
    @click="figure.edit((draft) => (draft.marks.opacity = null))"
  >
    Choose opacity automatically
  </UiAction>
  <Controls :of="marks.INSIDE_AND_OUTLINE" />
  <ColourTuning v-if="document.colour" />
  <Controls v-else :of="[marks.COLOUR_OF_ALL]" />
  <UiSection heading="Overlapping marks"><Controls :of="marks.SHARING_A_PLACE" /></UiSection>
  <UiSection heading="Connecting line"><Controls :of="marks.BETWEEN_POINTS" /></UiSection>
  <template v-if="document.names">
    <Controls :of="marks.NAMES" />
    <UiNote v-if="document.names.show === 'chosen'">
      Click a point on the figure, then “Label it”.
    </UiNote>
    <Controls :of="[marks.SIZE_OF_NAMES]" />
    <UiAction
      v-if="hasMoved"
      kind="words"
      @click="figure.edit((draft) => (draft.names!.moved = {}))"
    >
      Place dragged labels automatically
    </UiAction>
    <Lettering part="names" />
  </template>
  <UiSection heading="Error bars">
    <template v-for="(one, i) in bars" :key="i">
      <Controls :of="[one.kind]" />
      <UiRow even><Controls :of="[one.first, one.second]" /></UiRow>
      <Controls :of="[one.amount, ...one.lines]" />
    </template>
  </UiSection>
</template>
