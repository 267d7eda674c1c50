<script setup lang="ts">
/** Numbers read off a trend: y at an x, or the x at which y reaches a level. */
import { computed, ref } from 'vue'
import type { Trend } from '@/api/types'
import { dateText, valueText } from '@/render/geometry/ticks'
import { useFigure } from '@/stores/figure'
import { inSentence } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiList from '@/ui/UiList.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiText from '@/ui/UiText.vue'
import { parsePlace, whyNoPlace } from '@/figure-model/parse'
import Controls from './Controls.vue'
import { readOffControls } from '@/figure-model/controls/trends'

type ReadOff = Trend['read_off'][number]

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const trend = computed(() => figure.document!.trends[props.trend])
const answer = computed(() => figure.drawn!.answer)
const groups = computed(() =>
  answer.value.trends
    .filter((one) => one.trend === props.trend)
    .flatMap(({ report, group_value: value }) =>
      report.group === null ? [] : [{ value: value ?? report.group, label: report.group }],
    ),
)
const ways = computed(() => [
  { value: 'at' as const, label: `at ${inSentence(answer.value.x.variable)}` },
  { value: 'level' as const, label: `where ${inSentence(answer.value.y.variable)} is` },
])
const way = ref<'at' | 'level'>('at')
const typed = ref('')
const problem = ref('')

const isDate = (side: 'x' | 'y'): boolean => answer.value[side].variable.kind === 'date'
const sideOf = (one: 'at' | 'level'): 'x' | 'y' => (one === 'at' ? 'x' : 'y')
const shown = (value: number, side: 'x' | 'y'): string =>
  isDate(side) ? dateText(value) : valueText(Number(value.toPrecision(6)))

const words = (one: ReadOff): string =>
  one.at !== null
    ? `${answer.value.x.variable.label} ${shown(one.at, 'x')}`
    : `${answer.value.y.variable.label} ${shown(one.level!, 'y')}`

function add(): void {
  const side = sideOf(way.value)
  const value = parsePlace(typed.value.trim(), isDate(side))
  if (Number.isNaN(value)) {
    problem.value = whyNoPlace(typed.value.trim(), isDate(side))
    return
  }
  problem.value = ''
  typed.value = ''
  const one: ReadOff = { at: null, level: null, name: null, group: null }
  one[way.value] = value
  figure.edit((draft) => draft.trends[props.trend].read_off.push(one))
}

const remove = (place: number): void =>
  figure.edit((draft) => draft.trends[props.trend].read_off.splice(place, 1))
</script>

<template>
  <form @submit.prevent="add">
    <UiChoice v-model="way" label="Read off" :options="ways" />
    <UiRow>
      <UiText
        bare
        class="ui-fill"
        :label="way === 'at' ? 'Read off at' : 'Level to be reached'"
        :model-value="typed"
        :placeholder="isDate(sideOf(way)) ? '2031-04-01' : 'a number'"
        :error="problem"
        @typed="typed = $event"
      />
      <UiAction type="submit" :disabled="!typed.trim()">Read off</UiAction>
    </UiRow>
    <UiNote>Or drag along the line on the figure.</UiNote>
  </form>
  <UiList v-if="trend.read_off.length" label="Numbers read off">
    <li v-for="(one, i) in trend.read_off" :key="i">
      <UiRow>
        <span class="ui-fill">{{ words(one) }}</span>
        <UiAction kind="words" :label="`Remove ${words(one)}`" @click="remove(i)">×</UiAction>
      </UiRow>
      <UiRow even>
        <Controls :of="readOffControls(props.trend, i, words(one), groups)" />
      </UiRow>
    </li>
  </UiList>
</template>
