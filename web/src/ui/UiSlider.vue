<script setup lang="ts">
/** An amount set by hand: the picture moves while it is dragged. Its value can be typed, too. */
import { computed } from 'vue'
import { parsePlace } from '@/model/parse'
import UiText from './UiText.vue'

const props = defineProps<{
  label: string
  modelValue: number
  min: number
  max: number
  step?: number
  /** The value in words. */
  text: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number] }>()

const step = computed(() => props.step ?? 1)

/** What is typed stands where a slider could be, at the nearest step. */
function typed(words: string): void {
  const value = parsePlace(words.replace(/[^\d.,−+-]/g, ''), false)
  if (Number.isNaN(value) || words.trim() === '') return
  const near = props.min + Math.round((value - props.min) / step.value) * step.value
  emit('update:modelValue', Number(Math.max(props.min, Math.min(props.max, near)).toPrecision(12)))
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
      @update:model-value="typed"
    />
    <v-slider
      :model-value="modelValue"
      :min="min"
      :max="max"
      :step="step"
      :name="label"
      :item-value="undefined"
      @update:model-value="emit('update:modelValue', $event)"
    />
  </div>
</template>
