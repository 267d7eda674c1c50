<script setup lang="ts">
/** Error bars along one axis. */
import { computed } from 'vue'
import { blankBar } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import Choice from './Choice.vue'
import NumberField from './NumberField.vue'
import Slider from './Slider.vue'

type Bar = NonNullable<FigureDocument['error_bars']['y']>

const KINDS: { value: Bar['kind'] | null; label: string }[] = [
  { value: null, label: 'none' },
  { value: 'variable', label: 'a variable' },
  { value: 'two', label: 'two: below, above' },
  { value: 'fixed', label: 'an amount' },
  { value: 'share', label: 'a share' },
]

const props = defineProps<{ axis: 'x' | 'y' }>()

const figure = useFigure()
const studies = useStudy()
const bar = computed(() => figure.document!.error_bars[props.axis])
const numbers = computed(() =>
  (studies.tableOf(figure.document!.table)?.summary.variables ?? []).filter(
    ({ kind }) => kind === 'number',
  ),
)

const set = (change: Partial<Bar>, what = '') =>
  figure.edit((draft) => {
    draft.error_bars[props.axis] = { ...(draft.error_bars[props.axis] ?? blankBar()), ...change }
  }, what)

function setKind(kind: Bar['kind'] | null): void {
  if (kind === null) {
    figure.edit((draft) => (draft.error_bars[props.axis] = null))
    return
  }
  const first = bar.value?.below ?? numbers.value.at(-1)?.name ?? null
  set({
    kind,
    below: first,
    above: bar.value?.above ?? first,
    amount: kind === 'share' ? 0.05 : kind === 'fixed' ? 1 : 0,
  })
}

const chosen = (event: Event): string => (event.target as HTMLSelectElement).value
const notBelow = (value: number | null): string =>
  value !== null && value < 0 ? 'An error bar cannot be shorter than nothing.' : ''
</script>

<template>
  <Choice
    :label="axis === 'y' ? 'Error bars up and down' : 'Error bars across'"
    :value="bar?.kind ?? null"
    :options="KINDS"
    @set="setKind"
  />
  <template v-if="bar">
    <div v-if="bar.kind === 'variable' || bar.kind === 'two'" class="panel__two">
      <label class="field">
        {{ bar.kind === 'two' ? 'Below' : 'Length' }}
        <select :value="bar.below" @change="set({ below: chosen($event) })">
          <option v-for="v in numbers" :key="v.name" :value="v.name">{{ v.label }}</option>
        </select>
      </label>
      <label v-if="bar.kind === 'two'" class="field">
        Above
        <select :value="bar.above" @change="set({ above: chosen($event) })">
          <option v-for="v in numbers" :key="v.name" :value="v.name">{{ v.label }}</option>
        </select>
      </label>
    </div>
    <NumberField
      v-else
      :label="bar.kind === 'share' ? 'Share, %' : 'Amount'"
      :value="bar.kind === 'share' ? bar.amount * 100 : bar.amount"
      :check="notBelow"
      @set="set({ amount: bar.kind === 'share' ? ($event ?? 0) / 100 : ($event ?? 0) })"
    />
    <Slider
      label="Whisker cap"
      :value="bar.cap"
      :min="0"
      :max="20"
      :text="`${bar.cap} pt`"
      @set="set({ cap: $event }, 'cap')"
    />
    <Slider
      label="Line of the bars"
      :value="bar.width"
      :min="0.25"
      :max="4"
      :step="0.25"
      :text="`${bar.width} pt`"
      @set="set({ width: $event }, 'bar width')"
    />
  </template>
</template>
