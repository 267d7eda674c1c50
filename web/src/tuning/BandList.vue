<script setup lang="ts">
/** The bands about a trend, one inside the other. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import { parseLevel } from './parse'

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const bands = computed(() => figure.document!.trends[props.trend].bands)

function setLevel(place: number, event: Event): void {
  const field = event.target as HTMLInputElement
  const level = parseLevel(field.value)
  if (level === null) field.value = shown(bands.value[place].level)
  else figure.edit((draft) => (draft.trends[props.trend].bands[place].level = level))
}

const shown = (level: number): string => String(Number((level * 100).toPrecision(4)))

const setKind = (place: number, event: Event): void =>
  figure.edit((draft) => {
    const kind = (event.target as HTMLSelectElement).value
    draft.trends[props.trend].bands[place].kind = kind as 'confidence' | 'prediction'
  })

/** The next of the usual levels that is not there yet. */
function add(): void {
  const held = bands.value.map(({ level }) => level)
  const level = [0.95, 0.99, 0.9, 0.8, 0.5, 0.999].find((one) => !held.includes(one)) ?? 0.95
  figure.edit((draft) => draft.trends[props.trend].bands.push({ kind: 'confidence', level }))
}

const remove = (place: number): void =>
  figure.edit((draft) => draft.trends[props.trend].bands.splice(place, 1))
</script>

<template>
  <div class="bands" role="group" aria-label="Bands">
    <span class="quiet">Bands</span>
    <div v-for="(band, i) in bands" :key="i" class="band">
      <input
        v-held="shown(band.level)"
        :aria-label="`Level of band ${i + 1}, %`"
        inputmode="decimal"
        @change="setLevel(i, $event)"
      />
      <span>%</span>
      <select :value="band.kind" :aria-label="`Band ${i + 1} is for`" @change="setKind(i, $event)">
        <option value="confidence">for the mean</option>
        <option value="prediction">for a new row</option>
      </select>
      <button type="button" class="link" :aria-label="`Take band ${i + 1} off`" @click="remove(i)">
        ×
      </button>
    </div>
    <button v-if="bands.length < 6" type="button" class="link" @click="add">+ band</button>
  </div>
</template>

<style scoped>
.bands {
  display: grid;
  gap: 4px;
  font-size: 14px;
  justify-items: start;
}

.band {
  display: flex;
  gap: 6px;
  align-items: center;
}

.band input,
.band select {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 6px;
  background: var(--raised);
  color: var(--ink);
}

.band input {
  width: 52px;
}
</style>
