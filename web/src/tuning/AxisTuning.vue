<script setup lang="ts">
/** An axis: its title and its ends. */
import { computed, ref } from 'vue'
import { homeView } from '@/drawing/layout'
import { dateText, valueText } from '@/drawing/ticks'
import { useFigure } from '@/stores/figure'
import { parsePlace } from './parse'

const props = defineProps<{ axis: 'x' | 'y' }>()

const figure = useFigure()
const problem = ref('')
const axis = computed(() => figure.document!.axes[props.axis])
const words = computed(() => figure.drawn?.answer[props.axis].variable)
const isDate = computed(() => words.value?.kind === 'date')
const shown = (value: number): string => (isDate.value ? dateText(value) : valueText(value))
const home = computed(() => (figure.drawn ? homeView(figure.drawn)[props.axis] : [0, 1]))
const standard = computed(() => {
  const unit = words.value?.unit
  return unit ? `${words.value?.label} (${unit})` : (words.value?.label ?? '')
})

function setTitle(event: Event): void {
  const text = (event.target as HTMLInputElement).value
  figure.edit((draft) => {
    draft.axes[props.axis].title = text === '' || text === standard.value ? null : text
  }, `${props.axis} title`)
}

function setEnd(end: 'low' | 'high', event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim()
  const value = text === '' ? null : parsePlace(text, isDate.value)
  if (Number.isNaN(value)) {
    problem.value = `“${text}” is not ${isDate.value ? 'a date such as 2031-04-01' : 'a number'}.`
    return
  }
  const next = { ...axis.value, [end]: value }
  const low = next.low ?? home.value[0]
  const high = next.high ?? home.value[1]
  if (low >= high) {
    problem.value = `The axis must end above where it starts, and ${shown(low)} is not below ${shown(high)}.`
    return
  }
  problem.value = ''
  figure.edit((draft) => {
    draft.axes[props.axis][end] = value
  })
}
</script>

<template>
  <label class="field">
    Title
    <input :value="axis.title ?? standard" maxlength="500" @input="setTitle" />
  </label>
  <div class="ends">
    <label class="field">
      Starts at
      <input
        :value="axis.low === null ? '' : shown(axis.low)"
        :placeholder="shown(home[0])"
        @change="setEnd('low', $event)"
      />
    </label>
    <label class="field">
      Ends at
      <input
        :value="axis.high === null ? '' : shown(axis.high)"
        :placeholder="shown(home[1])"
        @change="setEnd('high', $event)"
      />
    </label>
  </div>
  <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
  <p class="quiet note">
    An empty end hugs the data. Raise text with ^ and lower it with _, as in m^2.
  </p>
</template>

<style scoped>
.ends {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}

.note {
  font-size: 13.5px;
  line-height: 1.35;
}

.problem {
  font-size: 14px;
  color: var(--caution);
}
</style>
