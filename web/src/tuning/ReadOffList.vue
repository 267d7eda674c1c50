<script setup lang="ts">
/** Numbers read off a trend: y at an x, or the x at which y reaches a level. */
import { computed, ref } from 'vue'
import type { Trend } from '@/api/types'
import { dateText, valueText } from '@/drawing/geometry/ticks'
import { useFigure } from '@/stores/figure'
import { inSentence } from '@/model/words'
import Choice from './Choice.vue'
import { parsePlace } from './parse'

type ReadOff = Trend['read_off'][number]

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const trend = computed(() => figure.document!.trends[props.trend])
const answer = computed(() => figure.drawn!.answer)
const groups = computed(() =>
  answer.value.trends
    .filter((one) => one.trend === props.trend)
    .flatMap(({ report }) => report.group ?? []),
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
    problem.value = `“${typed.value}” is not ${isDate(side) ? 'a date such as 2031-04-01' : 'a number'}.`
    return
  }
  problem.value = ''
  typed.value = ''
  const one: ReadOff = { at: null, level: null, name: null, group: null }
  one[way.value] = value
  figure.edit((draft) => draft.trends[props.trend].read_off.push(one))
}

const change = (place: number, part: Partial<ReadOff>): void =>
  figure.edit((draft) => {
    Object.assign(draft.trends[props.trend].read_off[place], part)
  })

const text = (event: Event): string => (event.target as HTMLInputElement).value

const remove = (place: number): void =>
  figure.edit((draft) => draft.trends[props.trend].read_off.splice(place, 1))
</script>

<template>
  <form class="ask" @submit.prevent="add">
    <Choice label="Read off" :value="way" :options="ways" @set="way = $event" />
    <div class="line">
      <input
        v-model="typed"
        :aria-label="way === 'at' ? 'Read off at' : 'Level to be reached'"
        :placeholder="isDate(sideOf(way)) ? '2031-04-01' : 'a number'"
      />
      <button type="submit" class="choice" :disabled="!typed.trim()">Read off</button>
    </div>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <p class="quiet small">Or drag along the line on the figure.</p>
  </form>
  <ul v-if="trend.read_off.length" class="list" aria-label="Numbers read off">
    <li v-for="(one, i) in trend.read_off" :key="i">
      <div class="line">
        <span class="what">{{ words(one) }}</span>
        <button
          type="button"
          class="link"
          :aria-label="`Take ${words(one)} off`"
          @click="remove(i)"
        >
          ×
        </button>
      </div>
      <div class="line">
        <input
          v-held="one.name ?? ''"
          maxlength="500"
          placeholder="name it"
          :aria-label="`Name of ${words(one)}`"
          @change="change(i, { name: text($event).trim() || null })"
        />
        <select
          v-if="groups.length"
          :value="one.group ?? ''"
          :aria-label="`Line read at ${words(one)}`"
          @change="change(i, { group: text($event) || null })"
        >
          <option value="">every line</option>
          <option v-for="group in groups" :key="group" :value="group">{{ group }}</option>
        </select>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.ask,
.list {
  display: grid;
  gap: 6px;
}

.list {
  list-style: none;
  padding: 0;
}

.list li {
  display: grid;
  gap: 3px;
}

.line {
  display: flex;
  gap: 6px;
  align-items: center;
  font-size: 14px;
}

.line input {
  flex: 1;
}

.line input,
.line select {
  min-width: 0;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
  background: var(--raised);
  color: var(--ink);
}

.what {
  flex: 1;
}

.small,
.problem {
  font-size: 13.5px;
}

.problem {
  color: var(--caution);
}
</style>
