<script setup lang="ts">
/** Reference lines and shaded ranges on an axis. */
import { computed } from 'vue'
import { blankReference } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import { homeView } from '@/drawing/layout/extents'
import { useFigure } from '@/stores/figure'
import NumberField from './NumberField.vue'

type Reference = FigureDocument['references'][number]

const KINDS: { value: Reference['at']; label: string }[] = [
  { value: 'value', label: 'at a value' },
  { value: 'mean', label: 'at the mean' },
  { value: 'median', label: 'at the median' },
  { value: 'range', label: 'a shaded range' },
  { value: 'identity', label: 'y = x' },
]

const props = defineProps<{ axis: 'x' | 'y' }>()

const figure = useFigure()
const all = computed(() => figure.document!.references)
const own = computed(() =>
  all.value
    .map((reference, place) => ({ reference, place }))
    .filter(({ reference: { axis } }) => axis === props.axis || axis === 'both'),
)
const isDate = computed(() => figure.drawn?.answer[props.axis].variable.kind === 'date')

const set = (place: number, change: Partial<Reference>) =>
  figure.edit((draft) => Object.assign(draft.references[place], change))

const add = () =>
  figure.edit((draft) => draft.references.push({ ...blankReference(), axis: props.axis }))

/** A line at a value starts in the middle of the axis, where it is seen. */
function setKind(place: number, at: Reference['at']): void {
  const [low, high] = figure.drawn ? homeView(figure.drawn)[props.axis] : [0, 1]
  const at_ = (share: number): number => Number((low + (high - low) * share).toPrecision(3))
  set(place, {
    at,
    axis: at === 'identity' ? 'both' : props.axis,
    value: at === 'value' ? at_(0.5) : at === 'range' ? at_(0.4) : null,
    high: at === 'range' ? at_(0.6) : null,
  })
}

const chosen = (event: Event): string => (event.target as HTMLInputElement).value
const above = (low: number | null) => (value: number | null) =>
  value === null || (low !== null && value <= low) ? 'A range ends above where it starts.' : ''
const needed = (value: number | null): string => (value === null ? 'Type a value.' : '')
</script>

<template>
  <div class="references" role="group" aria-label="Reference lines">
    <span class="references__label">Reference lines</span>
    <div v-for="{ reference, place } in own" :key="place" class="reference">
      <select
        :value="reference.at"
        aria-label="Where"
        @change="setKind(place, chosen($event) as Reference['at'])"
      >
        <option v-for="kind in KINDS" :key="kind.value" :value="kind.value">
          {{ kind.label }}
        </option>
      </select>
      <button
        type="button"
        class="link"
        :aria-label="`Take reference line ${place + 1} off`"
        @click="figure.edit((draft) => draft.references.splice(place, 1))"
      >
        ×
      </button>
      <div v-if="reference.at === 'value' || reference.at === 'range'" class="panel__two">
        <NumberField
          :label="reference.at === 'range' ? 'From' : 'Value'"
          :value="reference.value"
          :is-date="isDate"
          :check="needed"
          @set="set(place, { value: $event })"
        />
        <NumberField
          v-if="reference.at === 'range'"
          label="To"
          :value="reference.high"
          :is-date="isDate"
          :check="above(reference.value)"
          @set="set(place, { high: $event })"
        />
      </div>
      <label class="field">
        Label
        <input
          v-held="reference.label ?? ''"
          maxlength="500"
          @change="set(place, { label: chosen($event) || null })"
        />
      </label>
    </div>
    <button type="button" class="link" @click="add">+ reference line</button>
  </div>
</template>

<style scoped>
.references {
  display: grid;
  gap: 6px;
}

.references__label {
  font-size: 13.5px;
  color: var(--soft-ink);
}

.reference {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 6px 8px;
  padding-bottom: 6px;
  border-bottom: 1px solid var(--line);
}

.reference > select {
  appearance: auto;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 4px 6px;
}

.reference > .field,
.reference > .panel__two {
  grid-column: 1 / -1;
}
</style>
