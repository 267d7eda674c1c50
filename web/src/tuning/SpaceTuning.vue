<script setup lang="ts">
/** A box: from where it is seen, what tells near from far, and what its walls carry. */
import { blankSpace } from '@/api/blank'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { DEPTH, SHADOWS, TURN, WALLS } from './controls/space'

const figure = useFigure()

/** Where a pair of axes is seen face on; and the corner, with which a box begins. */
const VIEWS = [
  { label: 'From the corner', turn: blankSpace('').turn },
  { label: 'From the front', turn: { around: 0, above: 0 } },
  { label: 'From the side', turn: { around: -90, above: 0 } },
  { label: 'From the top', turn: { around: 0, above: 90 } },
]

const see = (turn: (typeof VIEWS)[number]['turn']) =>
  figure.edit((draft) => {
    draft.space!.turn = { ...turn }
    draft.space!.closeness = 1
  })
</script>

<template>
  <UiRow label="Named views">
    <UiAction v-for="{ label, turn } in VIEWS" :key="label" @click="see(turn)">
      {{ label }}
    </UiAction>
  </UiRow>
  <Controls :of="TURN" />
  <UiNote>Drag the box to turn it, or use the arrow keys; the wheel comes closer.</UiNote>
  <UiSection heading="Near and far"><Controls :of="DEPTH" /></UiSection>
  <Controls :of="WALLS" />
  <UiSection heading="Shadows">
    <UiRow><Controls :of="SHADOWS" /></UiRow>
  </UiSection>
</template>
