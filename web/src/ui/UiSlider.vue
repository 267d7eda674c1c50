<script setup lang="ts">
/** An amount set by hand: the picture moves while it is dragged. Its value can be typed, too. */
import { computed, ref, watch } from 'vue'
import { parsePlace, whyNoPlace } from '@/figure-model/parse'
import UiText from './UiText.vue'

const props = defineProps<{
  label: string
  modelValue: number
  min: number
  max: number
  step?: number
  /** The value in words. */
  text: string
  /** Where a number that is typed stands on the slider, if that is not where it says. */
  placeOf?: (typed: number) => number
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number] }>()

const step = computed(() => props.step ?? 1)

const problem = ref('')
watch(
  () => props.modelValue,
  () => (problem.value = ''),
)

/** What is typed stands where the slider could be, at the nearest step. */
function typed(words: string): void {
  const number = /[+\-−]?[\d.,]+(e[+\-−]?\d+)?/i.exec(words.replace(/[\s\u202f]/g, ''))?.[0] ?? ''
  const value = parsePlace(number.replaceAll('−', '-'), false)
  if (number === '' || Number.isNaN(value)) {
    problem.value = whyNoPlace(words, false)
    return
  }
  const place = props.placeOf ? props.placeOf(value) : value
  const near = props.min + Math.round((place - props.min) / step.value) * step.value
  const held = Math.max(props.min, Math.min(props.max, near))
  problem.value = ''
  emit('update:modelValue', Number(held.toPrecision(12)))
}
</script>

<template>
  <div class="ui-slider">
    <span class="ui-field__label" aria-hidden="true">{{ label }}</span>
    <UiText
      bare
      class="ui-slider__value"
      :label="`${label}, typed`"
      :model-value="text"
      :error="problem"
      @update:model-value="typed"
    />
    <v-slider
      :model-value="modelValue"
      :min="min"
      :max="max"
      :step="step"
      :name="label"
      :value-format="() => text"
      @update:model-value="emit('update:modelValue', $event)"
    />
  </div>
</template>
