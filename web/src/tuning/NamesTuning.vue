<script setup lang="ts">
/** Names on points: which, and how large. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { useFigure } from '@/stores/figure'
import Choice from './Choice.vue'
import Lettering from './Lettering.vue'
import Slider from './Slider.vue'

type Names = NonNullable<FigureDocument['names']>

const SHOWN: { value: Names['show']; label: string }[] = [
  { value: 'all', label: 'all' },
  { value: 'chosen', label: 'chosen ones' },
  { value: 'furthest', label: 'furthest from the trend' },
  { value: 'outermost', label: 'furthest from the middle' },
]

const figure = useFigure()
const names = computed(() => figure.document!.names!)
const set = (change: Partial<Names>, what = '') =>
  figure.edit((draft) => Object.assign(draft.names!, change), what)
</script>

<template>
  <Choice label="Names" :value="names.show" :options="SHOWN" @set="set({ show: $event })" />
  <Slider
    v-if="names.show === 'furthest' || names.show === 'outermost'"
    label="How many names"
    :value="names.count"
    :min="1"
    :max="60"
    :text="String(names.count)"
    @set="set({ count: $event }, 'name count')"
  />
  <p v-if="names.show === 'chosen'" class="quiet note">
    Click a point on the figure, then “Name it”.
  </p>
  <Slider
    label="Size of names"
    :value="names.size"
    :min="6"
    :max="24"
    :step="0.5"
    :text="`${names.size} pt`"
    @set="set({ size: $event }, 'name size')"
  />
  <button
    v-if="Object.keys(names.moved).length"
    type="button"
    class="link"
    @click="set({ moved: {} })"
  >
    Place dragged names anew
  </button>
  <Lettering part="names" heading="Lettering of names" />
</template>

<style scoped>
.note {
  font-size: 13.5px;
}
</style>
