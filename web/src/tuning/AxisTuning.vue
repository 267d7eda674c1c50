<script setup lang="ts">
/** An axis: its title, ends and scale, its ticks and their labels, its line and gridlines. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { homeView } from '@/drawing/layout/extents'
import { dateText, valueText } from '@/drawing/geometry/ticks'
import { useFigure } from '@/stores/figure'
import Choice from './Choice.vue'
import ColourField from './ColourField.vue'
import Folded from './Folded.vue'
import Lettering from './Lettering.vue'
import NumberField from './NumberField.vue'
import ReferenceList from './ReferenceList.vue'
import Slider from './Slider.vue'
import { parsePlace } from './parse'

type Axis = FigureDocument['axes']['x']

const SCALES: { value: Axis['scale']; label: string }[] = [
  { value: 'linear', label: 'linear' },
  { value: 'log', label: 'logarithmic' },
  { value: 'sqrt', label: 'square root' },
]
const BASES: { value: Axis['base']; label: string }[] = [
  { value: 10, label: '10' },
  { value: 2, label: '2' },
  { value: 'e', label: 'e' },
]
const WAYS = [
  { value: 'no', label: 'upwards' },
  { value: 'yes', label: 'reversed' },
] as const
const TICKS: { value: Axis['ticks']; label: string }[] = [
  { value: 'out', label: 'out' },
  { value: 'in', label: 'in' },
  { value: 'across', label: 'across' },
  { value: 'none', label: 'none' },
]
const LABELS: { value: Axis['labels']; label: string }[] = [
  { value: 'auto', label: 'as they fit' },
  { value: 'level', label: 'level' },
  { value: 'slanted', label: 'slanted' },
  { value: 'upright', label: 'upright' },
]
const GRIDS: { value: Axis['grid']; label: string }[] = [
  { value: 'none', label: 'none' },
  { value: 'large', label: 'at large ticks' },
  { value: 'all', label: 'at all ticks' },
]
const FRAMES: { value: FigureDocument['axes']['frame']; label: string }[] = [
  { value: 'range', label: 'the data' },
  { value: 'full', label: 'the plot' },
  { value: 'box', label: 'all round' },
]
const MARGINS: { value: FigureDocument['margins']['x']; label: string }[] = [
  { value: 'none', label: 'none' },
  { value: 'histogram', label: 'histogram' },
  { value: 'density', label: 'density' },
  { value: 'box', label: 'box' },
]
const EQUAL = [
  { value: 'no', label: 'fill the page' },
  { value: 'yes', label: 'equal units' },
] as const

const props = defineProps<{ axis: 'x' | 'y' }>()

const figure = useFigure()
const axes = computed(() => figure.document!.axes)
const axis = computed(() => axes.value[props.axis])
const words = computed(() => figure.drawn?.answer[props.axis].variable)
const isDate = computed(() => words.value?.kind === 'date')
const shown = (value: number): string => (isDate.value ? dateText(value) : valueText(value))
const home = computed(() => (figure.drawn ? homeView(figure.drawn)[props.axis] : [0, 1]))
const standard = computed(() => {
  const unit = words.value?.unit
  return unit ? `${words.value?.label} (${unit})` : (words.value?.label ?? '')
})

const set = (change: Partial<Axis>, what = '') =>
  figure.edit((draft) => Object.assign(draft.axes[props.axis], change), what)

function setTitle(event: Event): void {
  const text = (event.target as HTMLInputElement).value
  // An axis may go without a title: nothing is not the same as what it is called by itself.
  set({ title: text === standard.value ? null : text }, `${props.axis} title`)
}

/** Another scale may have no place for the end that was typed. */
function setScale(scale: Axis['scale']): void {
  const least = scale === 'log' ? Number.MIN_VALUE : 0
  const fits = scale === 'linear' || axis.value.low === null || axis.value.low >= least
  set({ scale, low: fits ? axis.value.low : null })
}

const checkEnd =
  (end: 'low' | 'high') =>
  (value: number | null): string => {
    const next = { ...axis.value, [end]: value }
    const low = next.low ?? home.value[0]
    const high = next.high ?? home.value[1]
    if (low >= high)
      return `The axis must end above where it starts, and ${shown(low)} is not below ${shown(high)}.`
    if (axis.value.scale === 'log' && next.low !== null && next.low <= 0)
      return 'A logarithmic axis starts above zero.'
    if (axis.value.scale === 'sqrt' && next.low !== null && next.low < 0)
      return 'A square-root axis starts at zero or above.'
    return ''
  }

const notZero = (value: number | null): string =>
  value !== null && value <= 0 ? 'A step is larger than zero.' : ''

const places = computed(() => axis.value.positions.map(shown).join('; '))

function setPlaces(event: Event): void {
  const typed = (event.target as HTMLInputElement).value
    .split(/;|,\s/)
    .map((text) => parsePlace(text.trim(), isDate.value))
    .filter((value) => !Number.isNaN(value))
  set({ positions: typed.slice(0, 200) })
}

const typed = (event: Event): string => (event.target as HTMLInputElement).value
</script>

<template>
  <label class="field">
    Title
    <input v-held="axis.title ?? standard" maxlength="500" @input="setTitle" />
  </label>
  <div class="panel__two">
    <NumberField
      label="Starts at"
      :value="axis.low"
      :placeholder="shown(home[0])"
      :is-date="isDate"
      :check="checkEnd('low')"
      @set="set({ low: $event })"
    />
    <NumberField
      label="Ends at"
      :value="axis.high"
      :placeholder="shown(home[1])"
      :is-date="isDate"
      :check="checkEnd('high')"
      @set="set({ high: $event })"
    />
  </div>
  <p class="quiet note">
    An empty end hugs the data. Raise text with ^ and lower it with _, as in m^2; &amp;mu; gives μ.
  </p>
  <Choice v-if="!isDate" label="Scale" :value="axis.scale" :options="SCALES" @set="setScale" />
  <Choice
    v-if="axis.scale === 'log'"
    label="Base"
    :value="axis.base"
    :options="BASES"
    @set="set({ base: $event })"
  />
  <Choice
    label="Direction"
    :value="axis.reversed ? 'yes' : 'no'"
    :options="WAYS"
    @set="set({ reversed: $event === 'yes' })"
  />
  <Choice label="Gridlines" :value="axis.grid" :options="GRIDS" @set="set({ grid: $event })" />
  <Folded heading="Ticks and their labels">
    <div class="panel__two">
      <NumberField
        :label="isDate ? 'Tick every … days' : 'Tick every'"
        :value="axis.step"
        placeholder="as fits"
        :check="notZero"
        @set="set({ step: $event })"
      />
      <label class="field">
        Own ticks at
        <input v-held="places" placeholder="10; 20; 50" @change="setPlaces" />
      </label>
    </div>
    <Choice label="Ticks" :value="axis.ticks" :options="TICKS" @set="set({ ticks: $event })" />
    <Slider
      label="Small ticks between"
      :value="axis.small_ticks"
      :min="0"
      :max="9"
      :text="String(axis.small_ticks)"
      @set="set({ small_ticks: $event }, 'small ticks')"
    />
    <div class="three">
      <NumberField
        label="Decimals"
        :value="axis.digits"
        placeholder="as needed"
        @set="
          set({ digits: $event === null ? null : Math.max(0, Math.min(12, Math.round($event))) })
        "
      />
      <label class="field">
        Before
        <input v-held="axis.prefix" maxlength="20" @change="set({ prefix: typed($event) })" />
      </label>
      <label class="field">
        After
        <input v-held="axis.suffix" maxlength="20" @change="set({ suffix: typed($event) })" />
      </label>
    </div>
    <Choice
      label="Tick labels"
      :value="axis.labels"
      :options="LABELS"
      @set="set({ labels: $event })"
    />
  </Folded>
  <Folded heading="Lines and where they cross">
    <NumberField
      label="The other axis stands at"
      :value="axis.crosses"
      placeholder="the edge"
      :is-date="isDate"
      @set="set({ crosses: $event })"
    />
    <Choice
      label="Axis lines span"
      :value="axes.frame"
      :options="FRAMES"
      @set="figure.edit((draft) => (draft.axes.frame = $event))"
    />
    <Choice
      label="Both axes"
      :value="axes.equal ? 'yes' : 'no'"
      :options="EQUAL"
      @set="figure.edit((draft) => (draft.axes.equal = $event === 'yes'))"
    />
    <Slider
      label="Line"
      :value="axis.width"
      :min="0"
      :max="4"
      :step="0.25"
      :text="axis.width ? `${axis.width} pt` : 'none'"
      @set="set({ width: $event }, 'axis line')"
    />
    <ColourField
      label="Colour of the line"
      :value="axis.colour"
      @set="set({ colour: $event ?? '#1d2b2a' }, 'axis colour')"
    />
  </Folded>
  <Lettering part="tick_labels" heading="Lettering of tick labels" />
  <Lettering part="axis_titles" heading="Lettering of axis titles" />
  <Choice
    label="Distribution along the axis"
    :value="figure.document!.margins[props.axis]"
    :options="MARGINS"
    @set="figure.edit((draft) => (draft.margins[props.axis] = $event))"
  />
  <ReferenceList :axis="props.axis" />
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: 1.2fr 1fr 1fr;
  gap: 8px;
}

.note {
  font-size: 13.5px;
  line-height: 1.35;
}
</style>
