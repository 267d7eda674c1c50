<script setup lang="ts">
/** The bands about a trend, one inside the other. */
import { computed, ref } from 'vue'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiField from '@/ui/UiField.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiText from '@/ui/UiText.vue'
import { parseLevel } from '@/model/parse'

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const bands = computed(() => figure.document!.trends[props.trend].bands)

const KINDS = [
  { value: 'confidence', label: 'for the mean' },
  { value: 'prediction', label: 'for a new row' },
] as const
const problems = ref<Record<number, string>>({})

function setLevel(place: number, typed: string): void {
  const level = parseLevel(typed)
  problems.value = level === null ? { [place]: 'A level lies between 50 and 99.9 %.' } : {}
  if (level !== null) figure.edit((draft) => (draft.trends[props.trend].bands[place].level = level))
}

const shown = (level: number): string => String(Number((level * 100).toPrecision(4)))

const setKind = (place: number, kind: 'confidence' | 'prediction'): void =>
  figure.edit((draft) => (draft.trends[props.trend].bands[place].kind = kind))

/** The next of the usual levels that is not there yet. */
function add(): void {
  const held = bands.value.map(({ level }) => level)
  const level = [0.95, 0.99, 0.9, 0.8, 0.5, 0.999].find((one) => !held.includes(one)) ?? 0.95
  figure.edit((draft) => draft.trends[props.trend].bands.push({ kind: 'confidence', level }))
}

const remove = (place: number): void =>
  figure.edit((draft) => draft.trends[props.trend].bands.splice(place, 1))
</script>

<template>
  <UiField label="Bands" role="group" aria-label="Bands">
    <UiRow v-for="(band, i) in bands" :key="i">
      <UiText
        bare
        numeric
        class="ui-short"
        :label="`Level of band ${i + 1}, %`"
        :model-value="shown(band.level)"
        :error="problems[i]"
        @update:model-value="setLevel(i, $event)"
      />
      %
      <UiSelect
        bare
        class="ui-fill"
        :label="`Band ${i + 1} is for`"
        :model-value="band.kind"
        :options="KINDS"
        @update:model-value="setKind(i, $event)"
      />
      <UiAction kind="words" :label="`Take band ${i + 1} off`" @click="remove(i)">×</UiAction>
    </UiRow>
    <UiAction v-if="bands.length < 6" kind="words" @click="add">+ band</UiAction>
  </UiField>
</template>
