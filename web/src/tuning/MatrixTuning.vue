<script setup lang="ts">
/** A scatterplot matrix: its regions, its order, and how its marks look. */
import { computed } from 'vue'
import { setFamily } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import { FAMILIES } from '@/model/families'
import { ABOVE_BELOW, DIAGONALS } from '@/statement/options'
import { useFigure } from '@/stores/figure'
import Choice from './Choice.vue'
import Slider from './Slider.vue'

type Matrix = NonNullable<FigureDocument['matrix']>

const R_AS = [
  { value: 'number', label: 'a number' },
  { value: 'ellipse', label: 'an ellipse' },
] as const
const ORDERS = [
  { value: 'own', label: 'as they are listed' },
  { value: 'together', label: 'as they go together' },
] as const
const MISSING = [
  { value: 'pairwise', label: 'each pair’s own rows' },
  { value: 'complete', label: 'complete rows only' },
] as const
const AXES = [
  { value: 'outer', label: 'on the outer edge' },
  { value: 'none', label: 'none' },
] as const
const YES_NO = [
  { value: 'yes', label: 'named' },
  { value: 'no', label: 'not named' },
] as const

const figure = useFigure()
const document = computed(() => figure.document!)
const matrix = computed(() => document.value.matrix!)
const hasTrend = computed(() => [matrix.value.below, matrix.value.above].includes('trend'))
const hasR = computed(() => [matrix.value.below, matrix.value.above].includes('r'))

const set = (change: Partial<Matrix>) =>
  figure.edit((draft) => {
    Object.assign(draft.matrix!, change)
  })

function chooseFamily(event: Event): void {
  const family = (event.target as HTMLSelectElement).value
  figure.edit((draft) => setFamily(draft.matrix!.trend, family))
}

const percent = (share: number): string => (share ? `${Math.round(share * 100)} %` : 'by itself')
</script>

<template>
  <Choice
    label="Below the diagonal"
    :value="matrix.below"
    :options="ABOVE_BELOW"
    @set="set({ below: $event })"
  />
  <Choice
    label="Above the diagonal"
    :value="matrix.above"
    :options="ABOVE_BELOW"
    @set="set({ above: $event })"
  />
  <label v-if="hasTrend" class="field">
    Trend
    <select aria-label="Trend in the cells" :value="matrix.trend.family" @change="chooseFamily">
      <option v-for="{ name, label } in FAMILIES" :key="name" :value="name">{{ label }}</option>
    </select>
  </label>
  <Choice
    v-if="hasR"
    label="r is drawn as"
    :value="matrix.r_as"
    :options="R_AS"
    @set="set({ r_as: $event })"
  />
  <Choice
    label="On the diagonal"
    :value="matrix.diagonal"
    :options="DIAGONALS"
    @set="set({ diagonal: $event })"
  />
  <Choice
    label="Variables on the diagonal"
    :value="matrix.names ? 'yes' : 'no'"
    :options="YES_NO"
    @set="set({ names: $event === 'yes' })"
  />
  <Choice label="Order" :value="matrix.order" :options="ORDERS" @set="set({ order: $event })" />
  <Choice
    label="Rows shown"
    :value="matrix.missing"
    :options="MISSING"
    @set="set({ missing: $event })"
  />
  <Choice label="Axes" :value="matrix.axes" :options="AXES" @set="set({ axes: $event })" />
  <Slider
    label="Size of marks"
    :value="document.marks.size"
    :min="1"
    :max="24"
    :step="0.5"
    :text="`${document.marks.size} pt`"
    @set="figure.edit((draft) => (draft.marks.size = $event), 'mark size')"
  />
  <Slider
    label="Opacity"
    :value="Math.round((document.marks.opacity ?? 0.7) * 100)"
    :min="2"
    :max="100"
    :text="document.marks.opacity === null ? 'from the crowding' : percent(document.marks.opacity)"
    @set="figure.edit((draft) => (draft.marks.opacity = $event / 100), 'opacity')"
  />
  <Slider
    v-for="axis in ['x', 'y'] as const"
    :key="axis"
    :label="axis === 'x' ? 'Jitter across' : 'Jitter up'"
    :value="document.jitter[axis] * 100"
    :min="0"
    :max="100"
    :text="percent(document.jitter[axis])"
    @set="figure.edit((draft) => (draft.jitter[axis] = $event / 100), `jitter ${axis}`)"
  />
</template>
