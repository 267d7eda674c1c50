<script setup lang="ts">
/** The bands about a trend, one inside the other. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiField from '@/ui/UiField.vue'
import UiRow from '@/ui/UiRow.vue'
import Controls from './Controls.vue'
import { bandControls } from '@/figure-model/controls/trends'

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const bands = computed(() => figure.document!.trends[props.trend].bands)
const own = computed(() => bands.value.map((_, i) => bandControls(props.trend, i)))

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
  <UiField label="Bands" role="group" aria-label="Bands">
    <UiRow v-for="(band, i) in own" :key="i">
      <Controls :of="[band.level]" />
      %
      <UiAction kind="words" :label="`Remove band ${i + 1}`" @click="remove(i)">Remove</UiAction>
      <div class="band__kind"><Controls :of="[band.kind]" /></div>
    </UiRow>
    <UiAction v-if="bands.length < 6" kind="words" @click="add">+ band</UiAction>
  </UiField>
</template>

<style scoped>
/* What a band is for takes a line of its own: it is longer than a field beside the level. */
.band__kind {
  flex-basis: 100%;
}
</style>
