<script setup lang="ts">
/** The legend: where it stands, its title, and its entries. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { useFigure } from '@/stores/figure'
import ColourTuning from './ColourTuning.vue'
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
    ? colour.value.categories.filter((_, code) => colour.value!.shown[code])
    : [],
)

const set = (change: Partial<Legend>, what = '') =>
  figure.edit((draft) => Object.assign(draft.legend, change), what)

const typed = (event: Event): string => (event.target as HTMLInputElement).value

function rename(entry: string, text: string): void {
  figure.edit((draft) => {
    const others = Object.entries(draft.legend.renamed).filter(([name]) => name !== entry)
    const own = text.trim() === '' || text === entry ? [] : [[entry, text]]
    draft.legend.renamed = Object.fromEntries([...others, ...own]) as Legend['renamed']
  })
}

function toggle(entry: string): void {
  const { hidden } = legend.value
  set({
    hidden: hidden.includes(entry) ? hidden.filter((e) => e !== entry) : [...hidden, entry],
  })
}
</script>

<template>
  <label class="field">
    Title
    <input
      :value="legend.title ?? standard"
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
    <li v-for="entry in entries" :key="entry">
      <input
        :value="legend.renamed[entry] ?? entry"
        maxlength="500"
        :aria-label="`Entry ${entry}`"
        @change="rename(entry, typed($event))"
      />
      <button
        type="button"
        class="choice"
        :aria-pressed="!legend.hidden.includes(entry)"
        :aria-label="`Show ${entry} in the legend`"
        @click="toggle(entry)"
      >
        {{ legend.hidden.includes(entry) ? 'left out' : 'shown' }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.entries {
  list-style: none;
  padding: 0;
  display: grid;
  gap: 4px;
}

.entries li {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px;
}

.entries input {
  min-width: 0;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
}
</style>
