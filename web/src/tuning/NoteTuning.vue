<script setup lang="ts">
/** A note: its words, where it stands, and what it points to. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { homeView } from '@/drawing/layout/extents'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import Lettering from './Lettering.vue'
import NumberField from './NumberField.vue'
import Slider from './Slider.vue'

type Note = FigureDocument['notes'][number]

const props = defineProps<{ note: number }>()

const figure = useFigure()
const side = useSide()
const note = computed(() => figure.document!.notes[props.note])
const isDate = (axis: 'x' | 'y'): boolean => figure.drawn?.answer[axis].variable.kind === 'date'

const set = (change: Partial<Note>, what = '') =>
  figure.edit((draft) => Object.assign(draft.notes[props.note], change), what)

const percent = (share: number): string => `${Math.round(share * 100)} %`

/** It first points to the middle of the data, from where it is set. */
function point(): void {
  if (!figure.drawn) return
  const { x, y } = homeView(figure.drawn)
  set({ points_to: [(x[0] + x[1]) / 2, (y[0] + y[1]) / 2] })
}

function pointTo(axis: 0 | 1, value: number | null): void {
  const before = note.value.points_to
  if (value === null || !before) return
  set({ points_to: axis === 0 ? [value, before[1]] : [before[0], value] })
}

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
        v-held="note.text"
        maxlength="500"
        @input="set({ text: ($event.target as HTMLInputElement).value }, `note ${props.note}`)"
      />
    </label>
    <template v-if="note.anchor === 'page'">
      <Slider
        label="From the left"
        :value="Math.round(note.x * 100)"
        :min="0"
        :max="100"
        :text="percent(note.x)"
        @set="set({ x: $event / 100 }, 'note across')"
      />
      <Slider
        label="From the top"
        :value="Math.round(note.y * 100)"
        :min="0"
        :max="100"
        :text="percent(note.y)"
        @set="set({ y: $event / 100 }, 'note down')"
      />
    </template>
    <p class="quiet">It can be dragged on the figure, too.</p>
    <template v-if="note.points_to">
      <div class="panel__two">
        <NumberField
          label="Points to, across"
          :value="note.points_to[0]"
          :is-date="isDate('x')"
          @set="pointTo(0, $event)"
        />
        <NumberField
          label="and up"
          :value="note.points_to[1]"
          :is-date="isDate('y')"
          @set="pointTo(1, $event)"
        />
      </div>
      <button type="button" class="choice" @click="set({ points_to: null })">
        Take its line off
      </button>
    </template>
    <button v-else type="button" class="choice" @click="point">Point to the data</button>
    <Lettering part="notes" heading="Lettering of notes" />
    <button type="button" class="link" @click="remove">Take this note off</button>
  </template>
</template>
