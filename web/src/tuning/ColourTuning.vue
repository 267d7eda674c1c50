<script setup lang="ts">
/** How amounts become colours; categories are coloured for the whole study, in the ledger. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { RAMPS, stepsOf, toHex } from '@/drawing/colours'
import { valueText } from '@/drawing/geometry/ticks'
import { canBeEither } from '@/statement/options'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import Choice from './Choice.vue'
import NumberField from './NumberField.vue'

type Colour = NonNullable<FigureDocument['colour']>

const SCALES = [
  { value: 'amount', label: 'an amount' },
  { value: 'category', label: 'a category' },
] as const
const WAYS = [
  { value: 'no', label: 'pale to deep' },
  { value: 'yes', label: 'reversed' },
] as const
const STEPS = [null, 3, 4, 5, 7, 9].map((value) => ({
  value,
  label: value === null ? 'continuous' : String(value),
}))

const figure = useFigure()
const side = useSide()
const studies = useStudy()
const colour = computed(() => figure.document!.colour!)
const answer = computed(() => figure.drawn?.answer.colour ?? null)
const variable = computed(() => studies.variableOf(figure.document!.table, colour.value.variable))
const isDate = computed(() => variable.value?.kind === 'date')

const set = (change: Partial<Colour>) =>
  figure.edit((draft) => Object.assign(draft.colour!, change))

const strip = (name: keyof typeof RAMPS): string =>
  `linear-gradient(90deg, ${stepsOf(RAMPS[name], 9).map(toHex).join(', ')})`

const hint = (value: number | null | undefined): string => (value == null ? '' : valueText(value))
</script>

<template>
  <Choice
    v-if="canBeEither(variable)"
    label="Colour shows"
    :value="answer?.scale ?? 'amount'"
    :options="SCALES"
    @set="set({ scale: $event })"
  />
  <template v-if="answer?.scale === 'amount'">
    <div class="ramps" role="group" aria-label="Colours of amounts">
      <button
        v-for="(_, name) in RAMPS"
        :key="name"
        type="button"
        class="choice ramp"
        :aria-pressed="colour.ramp === name"
        @click="set({ ramp: name })"
      >
        <span class="ramp__strip" :style="{ background: strip(name) }"></span>{{ name }}
      </button>
    </div>
    <Choice
      label="Direction"
      :value="colour.reversed ? 'yes' : 'no'"
      :options="WAYS"
      @set="set({ reversed: $event === 'yes' })"
    />
    <div class="panel__two">
      <NumberField
        label="From"
        :value="colour.low"
        :placeholder="hint(answer.low)"
        :is-date="isDate"
        @set="set({ low: $event })"
      />
      <NumberField
        label="To"
        :value="colour.high"
        :placeholder="hint(answer.high)"
        :is-date="isDate"
        @set="set({ high: $event })"
      />
    </div>
    <NumberField
      v-if="colour.ramp === 'tide'"
      label="Middle"
      :value="colour.middle"
      placeholder="half-way"
      :is-date="isDate"
      @set="set({ middle: $event })"
    />
    <Choice label="Steps" :value="colour.steps" :options="STEPS" @set="set({ steps: $event })" />
  </template>
  <p v-else-if="figure.document!.y.length === 1" class="quiet note">
    Order, names and colours of categories hold for the whole study.
    <button
      type="button"
      class="link"
      @click="side.show({ kind: 'variable', name: colour.variable })"
    >
      Set them
    </button>
  </p>
</template>

<style scoped>
.ramps {
  display: grid;
  grid-template-columns: repeat(3, 1fr);
  gap: 4px;
}

.ramp {
  display: grid;
  gap: 3px;
  justify-items: center;
}

.ramp__strip {
  width: 100%;
  height: 10px;
  border-radius: 3px;
}

.note {
  font-size: 13.5px;
  line-height: 1.35;
}
</style>
