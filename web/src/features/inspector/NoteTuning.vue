<script setup lang="ts">
/** A note: its words, where it stands, and what it points to. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { homeView } from '@/render/layout/extents'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import Controls from './Controls.vue'
import { noteControls, pointerControls } from '@/figure-model/controls/words'
import Lettering from './Lettering.vue'

type Note = FigureDocument['notes'][number]

const props = defineProps<{ note: number }>()

const figure = useFigure()
const side = useSide()
const note = computed(() => figure.document!.notes[props.note])

const set = (change: Partial<Note>) =>
  figure.edit((draft) => Object.assign(draft.notes[props.note], change))

/** It first points to the middle of the data, from where it is set. */
function point(): void {
  if (!figure.drawn) return
  const { x, y } = homeView(figure.drawn)
  set({ points_to: [(x[0] + x[1]) / 2, (y[0] + y[1]) / 2] })
}

function remove(): void {
  side.rest()
  figure.edit((draft) => draft.notes.splice(props.note, 1))
}
</script>

<template>
  <template v-if="note">
    <Controls :of="noteControls(props.note)" />
    <UiNote>It can be dragged on the figure, too.</UiNote>
    <template v-if="note.points_to">
      <UiRow even><Controls :of="pointerControls(props.note)" /></UiRow>
      <UiAction @click="set({ points_to: null })">Remove pointer</UiAction>
    </template>
    <UiAction v-else @click="point">Add a pointer</UiAction>
    <Lettering part="notes" />
    <UiAction kind="words" @click="remove">Delete note</UiAction>
  </template>
</template>
