<script setup lang="ts">
/** What is set about a trend's family: the line moves while a slider is dragged. */
import { computed } from 'vue'
import type { Trend } from '@/api/types'
import { useFigure } from '@/stores/figure'
import Choice from './Choice.vue'
import NumberField from './NumberField.vue'
import Slider from './Slider.vue'

type Form = Trend['form']

const props = defineProps<{ trend: number }>()

const SCATTERS = [
  { value: 'multiplicative', label: 'in proportion to y' },
  { value: 'additive', label: 'the same everywhere' },
] as const
const BENDS = [
  { value: 1, label: 'straight lines' },
  { value: 2, label: 'parabolas' },
] as const
const UNITS = [
  { value: 'rows', label: 'rows' },
  { value: 'x', label: 'units of x' },
] as const
const ALIGNMENTS = [
  { value: 'centred', label: 'about its place' },
  { value: 'trailing', label: 'up to its place' },
] as const
const PENALTIES = [
  { value: 'found', label: 'found from the rows' },
  { value: 'given', label: 'given' },
] as const
/** Penalties run over many powers of ten. */
const LEAST_LOG = -8
const MOST_LOG = 2
const MOST_ROWS = 201

const figure = useFigure()
const trend = computed(() => figure.document!.trends[props.trend])
const form = computed(() => trend.value.form)
const span = computed(() => {
  const { low, high } = figure.drawn?.answer.x ?? { low: 0, high: 1 }
  return (high ?? 1) - (low ?? 0)
})
const isDate = computed(() => figure.drawn?.answer.x.variable.kind === 'date')

const tune = (change: Partial<Form>, what = '') =>
  figure.edit(
    (draft) => {
      Object.assign(draft.trends[props.trend].form, change)
    },
    what && `${what} ${props.trend}`,
  )

/** In units of x a window starts as a tenth of the data. */
function setUnit(unit: Form['window_unit']): void {
  const window = unit === 'rows' ? 7 : Number((span.value / 10).toPrecision(2))
  tune({ window_unit: unit, window })
}

const notBelow = (value: number | null): string => {
  const { upper } = form.value
  return value !== null && upper !== null && value >= upper
    ? 'The lower end lies below the upper one.'
    : ''
}
const notAbove = (value: number | null): string => {
  const { lower } = form.value
  return value !== null && lower !== null && value <= lower
    ? 'The upper end lies above the lower one.'
    : ''
}
</script>

<template>
  <Slider
    v-if="trend.family === 'polynomial'"
    label="Degree"
    :value="form.degree"
    :min="2"
    :max="10"
    :text="String(form.degree)"
    @set="tune({ degree: $event }, 'degree')"
  />
  <NumberField
    v-if="trend.family === 'straight'"
    label="Intercept, where it is known"
    :value="form.intercept"
    placeholder="fitted"
    @set="tune({ intercept: $event })"
  />
  <Choice
    v-if="trend.family === 'exponential' || trend.family === 'power'"
    label="Scatter of y"
    :value="form.scatter"
    :options="SCATTERS"
    @set="tune({ scatter: $event })"
  />
  <div v-if="trend.family === 's-curve'" class="panel__two">
    <NumberField
      label="Lower end"
      :value="form.lower"
      placeholder="fitted"
      :check="notBelow"
      @set="tune({ lower: $event })"
    />
    <NumberField
      label="Upper end"
      :value="form.upper"
      placeholder="fitted"
      :check="notAbove"
      @set="tune({ upper: $event })"
    />
  </div>
  <template v-if="trend.family === 'local'">
    <Slider
      label="Span"
      :value="Math.round(form.span * 100)"
      :min="10"
      :max="100"
      :text="`${Math.round(form.span * 100)} % of the rows`"
      @set="tune({ span: $event / 100 }, 'span')"
    />
    <Choice
      label="Fitted locally"
      :value="form.bend"
      :options="BENDS"
      @set="tune({ bend: $event })"
    />
    <Slider
      label="Robust passes"
      :value="form.passes"
      :min="0"
      :max="4"
      :text="form.passes ? String(form.passes) : 'none'"
      @set="tune({ passes: $event }, 'passes')"
    />
  </template>
  <template v-if="trend.family === 'spline'">
    <Choice
      label="Penalty"
      :value="form.penalty === null ? 'found' : 'given'"
      :options="PENALTIES"
      @set="tune({ penalty: $event === 'found' ? null : 0.001 })"
    />
    <Slider
      v-if="form.penalty !== null"
      label="Smoothness"
      :value="Math.log10(Math.max(form.penalty, 10 ** LEAST_LOG))"
      :min="LEAST_LOG"
      :max="MOST_LOG"
      :step="0.1"
      :text="form.penalty.toPrecision(2)"
      @set="tune({ penalty: Number((10 ** $event).toPrecision(3)) }, 'penalty')"
    />
  </template>
  <template v-if="trend.family === 'moving-average'">
    <Slider
      v-if="form.window_unit === 'rows'"
      label="Window"
      :value="form.window"
      :min="1"
      :max="MOST_ROWS"
      :text="`${form.window} rows`"
      @set="tune({ window: $event }, 'window')"
    />
    <Slider
      v-else
      label="Window"
      :value="form.window"
      :min="span / 200"
      :max="span / 2"
      :step="span / 400"
      :text="`${Number(form.window.toPrecision(3))}${isDate ? ' days' : ''}`"
      @set="tune({ window: $event }, 'window')"
    />
    <Choice
      label="The window counts"
      :value="form.window_unit"
      :options="UNITS"
      @set="setUnit($event)"
    />
    <Choice
      label="The window lies"
      :value="form.alignment"
      :options="ALIGNMENTS"
      @set="tune({ alignment: $event })"
    />
  </template>
</template>
