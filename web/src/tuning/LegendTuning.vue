<script setup lang="ts">
/** The legend: where it stands, its title, and its entries. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { inLegendOrder } from '@/drawing/parts/legend'
import { useFigure } from '@/stores/figure'
import ColourTuning from './ColourTuning.vue'
import EntryTuning from './EntryTuning.vue'
import Lettering from './Lettering.vue'
import Slider from './Slider.vue'

type Legend = FigureDocument['legend']

const PLACES: { place: Legend['place']; label: string }[] = [
  { place: 'auto', label: 'where there is room' },
  { place: 'inside', label: 'inside, in the emptiest corner' },
  { place: 'right', label: 'right of the plot' },
  { place: 'below', label: 'below the plot' },
  { place: 'free', label: 'where it is put' },
  { place: 'none', label: 'not shown' },
]

const figure = useFigure()
const legend = computed(() => figure.document!.legend)
const colour = computed(() => figure.drawn?.answer.colour ?? null)
const standard = computed(() => {
  const words = colour.value?.variable
  return words?.unit ? `${words.label} (${words.unit})` : (words?.label ?? '')
})
const entries = computed(() =>
  colour.value?.scale === 'category'
    ? inLegendOrder(
        colour.value.categories.filter((_, code) => colour.value!.shown[code]),
        legend.value.order,
      )
    : [],
)

const set = (change: Partial<Legend>, what = '') =>
  figure.edit((draft) => Object.assign(draft.legend, change), what)

const typed = (event: Event): string => (event.target as HTMLInputElement).value
</script>

<template>
  <label class="field">
    Title
    <input
      v-held="legend.title ?? standard"
      maxlength="500"
      @input="set({ title: typed($event) === standard ? null : typed($event) }, 'legend title')"
    />
  </label>
  <label class="field">
    Place
    <select :value="legend.place" @change="set({ place: typed($event) as Legend['place'] })">
      <option v-for="{ place, label } in PLACES" :key="place" :value="place">{{ label }}</option>
    </select>
  </label>
  <template v-if="legend.place === 'free'">
    <Slider
      label="From the left"
      :value="Math.round(legend.x * 100)"
      :min="0"
      :max="100"
      :text="`${Math.round(legend.x * 100)} %`"
      @set="set({ x: $event / 100 }, 'legend across')"
    />
    <Slider
      label="From the top"
      :value="Math.round(legend.y * 100)"
      :min="0"
      :max="100"
      :text="`${Math.round(legend.y * 100)} %`"
      @set="set({ y: $event / 100 }, 'legend down')"
    />
  </template>
  <ColourTuning v-if="figure.document!.colour" />
  <ul v-if="entries.length" class="entries" aria-label="Entries">
    <EntryTuning v-for="entry in entries" :key="entry" :entry="entry" :entries="entries" />
  </ul>
  <Lettering part="legend" heading="Lettering of the legend" />
</template>

<style scoped>
.entries {
  list-style: none;
  padding: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
}
</style>
