<script setup lang="ts">
/** The legend: where it stands and its title. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { useFigure } from '@/stores/figure'

const PLACES: { place: FigureDocument['legend']['place']; label: string }[] = [
  { place: 'auto', label: 'where there is room' },
  { place: 'inside', label: 'inside, in the emptiest corner' },
  { place: 'right', label: 'right of the plot' },
  { place: 'below', label: 'below the plot' },
  { place: 'none', label: 'not shown' },
]

const figure = useFigure()
const legend = computed(() => figure.document!.legend)
const standard = computed(() => {
  const words = figure.drawn?.answer.colour?.variable
  return words?.unit ? `${words.label} (${words.unit})` : (words?.label ?? '')
})

function setPlace(event: Event): void {
  const place = (event.target as HTMLSelectElement).value as FigureDocument['legend']['place']
  figure.edit((draft) => {
    draft.legend.place = place
  })
}

function setTitle(event: Event): void {
  const text = (event.target as HTMLInputElement).value
  figure.edit((draft) => {
    draft.legend.title = text === standard.value ? null : text
  }, 'legend title')
}
</script>

<template>
  <label class="field">
    Title
    <input :value="legend.title ?? standard" maxlength="500" @input="setTitle" />
  </label>
  <label class="field">
    Place
    <select :value="legend.place" @change="setPlace">
      <option v-for="{ place, label } in PLACES" :key="place" :value="place">{{ label }}</option>
    </select>
  </label>
</template>
