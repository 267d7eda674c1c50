<script setup lang="ts">
/** All marks: shape, size, colour, opacity, and what tells apart those that share a place. */
import { computed } from 'vue'
import { blankConnect } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import { opacityOf } from '@/drawing/marks/looks'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import BarsTuning from './BarsTuning.vue'
import Choice from './Choice.vue'
import ColourField from './ColourField.vue'
import ColourTuning from './ColourTuning.vue'
import Folded from './Folded.vue'
import NamesTuning from './NamesTuning.vue'
import ShapeChoice from './ShapeChoice.vue'
import SizeTuning from './SizeTuning.vue'
import Slider from './Slider.vue'

type Marks = FigureDocument['marks']

const FILLS = [
  { value: 'filled', label: 'filled' },
  { value: 'hollow', label: 'hollow' },
] as const
const SHADINGS: { value: Marks['density']; label: string }[] = [
  { value: 'auto', label: 'where too many' },
  { value: 'on', label: 'always' },
  { value: 'off', label: 'never' },
]
const WAYS = [
  { value: null, label: 'not' },
  { value: 'straight', label: 'straight' },
  { value: 'smooth', label: 'smooth' },
  { value: 'steps', label: 'in steps' },
] as const
const ORDERS = [
  { value: 'x', label: 'from left to right' },
  { value: 'rows', label: 'as the rows stand' },
] as const

const figure = useFigure()
const studies = useStudy()
const document = computed(() => figure.document!)
const marks = computed(() => document.value.marks)
const variables = computed(() => studies.tableOf(document.value.table)?.summary.variables ?? [])
const opacity = computed(() => opacityOf(document.value, figure.drawn?.answer.counts.drawn ?? 0))
const percent = (share: number): string => `${Math.round(share * 100)} %`

const set = (change: Partial<Marks>, what = '') =>
  figure.edit((draft) => Object.assign(draft.marks, change), what)

const jitter = (axis: 'x' | 'y', amount: number) =>
  figure.edit((draft) => (draft.jitter[axis] = amount), `jitter ${axis}`)

function connect(line: (typeof WAYS)[number]['value']): void {
  figure.edit((draft) => {
    draft.connect = line === null ? null : { ...(draft.connect ?? blankConnect()), line }
  })
}
</script>

<template>
  <ShapeChoice label="Marker" :value="marks.shape" @set="set({ shape: $event ?? 'disc' })" />
  <label class="field">
    Letters in its place
    <select
      :value="marks.text ?? ''"
      @change="set({ text: ($event.target as HTMLSelectElement).value || null })"
    >
      <option value="">none</option>
      <option v-for="{ name, label } in variables" :key="name" :value="name">{{ label }}</option>
    </select>
  </label>
  <Slider
    v-if="!document.size"
    label="Size"
    :value="marks.size"
    :min="1"
    :max="24"
    :step="0.5"
    :text="`${marks.size} pt`"
    @set="set({ size: $event }, 'mark size')"
  />
  <SizeTuning v-else />
  <Slider
    label="Opacity"
    :value="Math.round(opacity * 100)"
    :min="2"
    :max="100"
    :text="percent(opacity)"
    @set="set({ opacity: $event / 100 }, 'opacity')"
  />
  <button v-if="marks.opacity !== null" type="button" class="link" @click="set({ opacity: null })">
    Choose opacity from the crowding
  </button>
  <Choice
    label="Inside"
    :value="marks.hollow ? 'hollow' : 'filled'"
    :options="FILLS"
    @set="set({ hollow: $event === 'hollow' })"
  />
  <Slider
    label="Outline"
    :value="marks.outline?.width ?? 0"
    :min="0"
    :max="4"
    :step="0.25"
    :text="marks.outline ? `${marks.outline.width} pt` : 'a hairline of paper'"
    @set="
      set(
        { outline: $event ? { colour: marks.outline?.colour ?? '#1d2b2a', width: $event } : null },
        'outline',
      )
    "
  />
  <ColourField
    v-if="marks.outline"
    label="Outline colour"
    :value="marks.outline.colour"
    none="as inside"
    @set="set({ outline: { ...marks.outline, colour: $event } })"
  />
  <ColourTuning v-if="document.colour" />
  <ColourField
    v-else-if="document.y.length === 1"
    label="Colour"
    :value="marks.colour ?? '#006a64'"
    @set="set({ colour: $event }, 'colour')"
  />
  <Folded heading="Marks that share a place">
    <Slider
      label="Jitter across"
      :value="document.jitter.x * 100"
      :min="0"
      :max="100"
      :text="percent(document.jitter.x)"
      @set="jitter('x', $event / 100)"
    />
    <Slider
      label="Jitter up"
      :value="document.jitter.y * 100"
      :min="0"
      :max="100"
      :text="percent(document.jitter.y)"
      @set="jitter('y', $event / 100)"
    />
    <Choice
      label="Density shading"
      :value="marks.density"
      :options="SHADINGS"
      @set="set({ density: $event })"
    />
  </Folded>
  <Folded heading="Lines between points">
    <Choice
      label="Connect the points"
      :value="document.connect?.line ?? null"
      :options="WAYS"
      @set="connect"
    />
    <Choice
      v-if="document.connect"
      label="In which order"
      :value="document.connect.order"
      :options="ORDERS"
      @set="figure.edit((draft) => (draft.connect!.order = $event as 'x' | 'rows'))"
    />
  </Folded>
  <NamesTuning v-if="document.names" />
  <Folded heading="Error bars">
    <BarsTuning axis="y" />
    <BarsTuning axis="x" />
  </Folded>
</template>
