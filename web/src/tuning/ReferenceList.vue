<script setup lang="ts">
/** Reference lines and shaded ranges on an axis. */
import { computed } from 'vue'
import { blankReference } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import { homeView } from '@/drawing/layout/extents'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiField from '@/ui/UiField.vue'
import UiPlace from '@/ui/UiPlace.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiText from '@/ui/UiText.vue'

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

const above = (low: number | null) => (value: number | null) =>
  value === null || (low !== null && value <= low) ? 'A range ends above where it starts.' : ''
const needed = (value: number | null): string => (value === null ? 'Type a value.' : '')
</script>

<template>
  <UiField label="Reference lines" role="group" aria-label="Reference lines">
    <template v-for="{ reference, place } in own" :key="place">
      <UiRow>
        <UiSelect
          bare
          class="ui-fill"
          label="Where"
          :model-value="reference.at"
          :options="KINDS"
          @update:model-value="setKind(place, $event)"
        />
        <UiAction
          kind="words"
          :label="`Take reference line ${place + 1} off`"
          @click="figure.edit((draft) => draft.references.splice(place, 1))"
        >
          ×
        </UiAction>
      </UiRow>
      <UiRow v-if="reference.at === 'value' || reference.at === 'range'" even>
        <UiPlace
          :label="reference.at === 'range' ? 'From' : 'Value'"
          :model-value="reference.value"
          :is-date="isDate"
          :check="needed"
          @update:model-value="set(place, { value: $event })"
        />
        <UiPlace
          v-if="reference.at === 'range'"
          label="To"
          :model-value="reference.high"
          :is-date="isDate"
          :check="above(reference.value)"
          @update:model-value="set(place, { high: $event })"
        />
      </UiRow>
      <UiText
        label="Label"
        :model-value="reference.label ?? ''"
        :maxlength="500"
        @update:model-value="set(place, { label: $event || null })"
      />
    </template>
    <UiAction kind="words" @click="add">+ reference line</UiAction>
  </UiField>
</template>
