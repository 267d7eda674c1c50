<script setup lang="ts">
/** A trend: its form, its bands, how its line is drawn, and what is read off it. */
import { computed, ref } from 'vue'
import type { Trend } from '@/api/types'
import { blankSize, setFamily } from '@/api/blank'
import OnFigure from '@/readings/OnFigure.vue'
import { FAMILIES } from '@/model/families'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import BandList from './BandList.vue'
import Choice from './Choice.vue'
import ColourField from './ColourField.vue'
import Folded from './Folded.vue'
import FormTuning from './FormTuning.vue'
import Lettering from './Lettering.vue'
import NumberField from './NumberField.vue'
import ReadOffList from './ReadOffList.vue'
import Slider from './Slider.vue'
import { parseLevel } from './parse'

const props = defineProps<{ trend: number }>()

const DASHES = [
  { value: 'solid', label: 'whole' },
  { value: 'dashed', label: 'dashed' },
  { value: 'dotted', label: 'dotted' },
] as const
const LETTERS = [
  { value: 'x', label: 'x and y' },
  { value: 'variables', label: 'variables' },
] as const
const PLACES = [
  { value: 'auto', label: 'in one box' },
  { value: 'lines', label: 'beside their lines' },
  { value: 'free', label: 'where they are put' },
] as const
const MEANINGS = [
  { value: 'weights', label: 'weights' },
  { value: 'standard_errors', label: 'standard errors' },
] as const

const figure = useFigure()
const side = useSide()
const studies = useStudy()
const problem = ref('')
const document = computed(() => figure.document!)
const trend = computed(() => document.value.trends[props.trend])
const isDate = computed(() => figure.drawn?.answer.x.variable.kind === 'date')
const numbers = computed(() =>
  (studies.tableOf(document.value.table)?.summary.variables ?? []).filter(
    ({ kind }) => kind === 'number',
  ),
)

const set = (change: Partial<Trend>, what = '') =>
  figure.edit(
    (draft) => {
      Object.assign(draft.trends[props.trend], change)
    },
    what && `${what} ${props.trend}`,
  )

function chooseFamily(event: Event): void {
  const family = (event.target as HTMLSelectElement).value
  figure.edit((draft) => setFamily(draft.trends[props.trend], family))
}

function setLevel(event: Event): void {
  const level = parseLevel((event.target as HTMLInputElement).value)
  if (level === null) {
    problem.value = 'A level lies between 50 and 99.9 %.'
    return
  }
  problem.value = ''
  figure.edit((draft) => {
    const one = draft.trends[props.trend]
    one.level = level
    if (one.bands.length === 1) one.bands[0].level = level
  })
}

const carry = (end: 'before' | 'after', value: number | null): void =>
  figure.edit((draft) => {
    draft.trends[props.trend].carry[end] = value ?? 0
  })

const notNegative = (value: number | null): string =>
  value !== null && value < 0 ? 'An amount is not below zero.' : ''

function sizeByInfluence(): void {
  figure.edit((draft) => {
    draft.size = draft.size?.influence
      ? null
      : { ...blankSize(''), variable: null, influence: true, largest: 24 }
  })
}

function remove(): void {
  side.rest()
  side.residuals = null
  figure.edit((draft) => {
    draft.trends.splice(props.trend, 1)
  })
}
</script>

<template>
  <template v-if="trend">
    <label class="field">
      Form
      <select aria-label="Form of the trend" :value="trend.family" @change="chooseFamily">
        <option v-for="{ name, label } in FAMILIES" :key="name" :value="name">{{ label }}</option>
      </select>
    </label>
    <FormTuning :trend="props.trend" />
    <div class="links">
      <button
        type="button"
        class="choice"
        @click="side.show({ kind: 'compare', trend: props.trend, group: null })"
      >
        Compare forms
      </button>
      <button
        type="button"
        class="choice"
        :aria-pressed="side.residuals === props.trend"
        @click="side.residuals = side.residuals === props.trend ? null : props.trend"
      >
        Residuals
      </button>
      <button
        type="button"
        class="choice"
        :aria-pressed="document.size?.influence ?? false"
        @click="sizeByInfluence"
      >
        Influence on the marks
      </button>
    </div>
    <BandList :trend="props.trend" />
    <label class="field">
      Level of intervals, %
      <input v-held="Number((trend.level * 100).toPrecision(4))" @change="setLevel" />
    </label>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <Folded heading="Read off">
      <ReadOffList :trend="props.trend" />
    </Folded>
    <Folded heading="Carry on past the data">
      <div class="panel__two">
        <NumberField
          :label="isDate ? 'Before, days' : 'Before'"
          :value="trend.carry.before || null"
          placeholder="not"
          :check="notNegative"
          @set="carry('before', $event)"
        />
        <NumberField
          :label="isDate ? 'After, days' : 'After'"
          :value="trend.carry.after || null"
          placeholder="not"
          :check="notNegative"
          @set="carry('after', $event)"
        />
      </div>
    </Folded>
    <Folded heading="Line">
      <Slider
        label="Width"
        :value="trend.width"
        :min="0.5"
        :max="8"
        :step="0.25"
        :text="`${trend.width} pt`"
        @set="set({ width: $event }, 'trend width')"
      />
      <Choice label="Drawn" :value="trend.dash" :options="DASHES" @set="set({ dash: $event })" />
      <ColourField
        label="Colour of the line"
        :value="trend.colour"
        none="its group’s"
        @set="set({ colour: $event }, 'trend colour')"
      />
    </Folded>
    <Folded heading="Equation and readings on the figure">
      <OnFigure :trend="props.trend" />
      <Choice
        label="The equation speaks of"
        :value="trend.letters"
        :options="LETTERS"
        @set="set({ letters: $event })"
      />
      <Slider
        label="Digits"
        :value="trend.digits ?? 0"
        :min="0"
        :max="10"
        :text="trend.digits ? String(trend.digits) : 'as few as land on the line'"
        @set="set({ digits: $event || null }, 'digits')"
      />
      <Choice
        label="They stand"
        :value="document.readings.place"
        :options="PLACES"
        @set="figure.edit((draft) => (draft.readings.place = $event))"
      />
      <template v-if="document.readings.place === 'free'">
        <Slider
          v-for="axis in ['x', 'y'] as const"
          :key="axis"
          :label="axis === 'x' ? 'From the left' : 'From the top'"
          :value="Math.round(document.readings[axis] * 100)"
          :min="0"
          :max="100"
          :text="`${Math.round(document.readings[axis] * 100)} %`"
          @set="figure.edit((draft) => (draft.readings[axis] = $event / 100), `readings ${axis}`)"
        />
      </template>
      <Lettering part="readings" heading="Lettering of readings" />
    </Folded>
    <Folded heading="Weights">
      <label class="field">
        Variable
        <select
          aria-label="Variable of weights"
          :value="trend.weights ?? ''"
          @change="set({ weights: ($event.target as HTMLSelectElement).value || null })"
        >
          <option value="">all rows alike</option>
          <option v-for="{ name, label } in numbers" :key="name" :value="name">{{ label }}</option>
        </select>
      </label>
      <Choice
        v-if="trend.weights"
        label="It holds"
        :value="trend.weights_are"
        :options="MEANINGS"
        @set="set({ weights_are: $event })"
      />
    </Folded>
    <button type="button" class="link" @click="remove">Take this trend off</button>
  </template>
</template>

<style scoped>
.problem {
  font-size: 14px;
  color: var(--caution);
}

.links {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
</style>
