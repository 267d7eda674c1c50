<script setup lang="ts">
/** A box: from where it is seen, what tells near from far, and what its walls carry. */
import { VIEWS, type NamedView } from '@/kinds/space/views'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { DEPTH, SHADOWS, TURN, WALLS } from '@/figure-model/controls/space'

const figure = useFigure()

const see = ({ turn }: NamedView) =>
  figure.edit((draft) => {
    draft.space!.turn = { ...turn }
    draft.space!.closeness = 1
  })
</script>

<template>
  <UiRow label="Named views">
    <UiAction v-for="view in VIEWS" :key="view.label" @click="see(view)">
      {{ view.label }}
    </UiAction>
  </UiRow>
  <Controls :of="TURN" />
  <UiNote>Drag the box to turn it, or use the arrow keys; the wheel comes closer.</UiNote>
  <UiSection heading="Depth cues"><Controls :of="DEPTH" /></UiSection>
  <Controls :of="WALLS" />
  <UiSection heading="Shadows">
    <UiRow><Controls :of="SHADOWS" /></UiRow>
  </UiSection>
</template>
