<script setup lang="ts">
/** A note: its words, and what it points to. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'

const props = defineProps<{ note: number }>()

const figure = useFigure()
const side = useSide()
const note = computed(() => figure.document!.notes[props.note])

function remove(): void {
  side.rest()
  figure.edit((draft) => draft.notes.splice(props.note, 1))
}
</script>

<template>
  <template v-if="note">
    <label class="field">
      Text
      <input
        :value="note.text"
        maxlength="500"
        @input="
          figure.edit(
            (draft) => (draft.notes[props.note].text = ($event.target as HTMLInputElement).value),
            `note ${props.note}`,
          )
        "
      />
    </label>
    <p class="quiet">Drag it on the figure, or move it with Alt and the arrow keys.</p>
    <button
      v-if="note.points_to"
      type="button"
      class="choice"
      @click="figure.edit((draft) => (draft.notes[props.note].points_to = null))"
    >
      Take its line off
    </button>
    <button type="button" class="link" @click="remove">Take this note off</button>
  </template>
</template>
