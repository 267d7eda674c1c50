<script setup lang="ts">
/** A number, or a date, typed in the axis's own terms; an empty field leaves it to Yarrowdew. */
import { ref, watch } from 'vue'
import { dateText, valueText } from '@/render/geometry/ticks'
import { parsePlace, whyNoPlace } from '@/figure-model/parse'
import UiText from './UiText.vue'

const props = defineProps<{
  label: string
  modelValue: number | null
  placeholder?: string
  isDate?: boolean
  bare?: boolean
  /** Says what is wrong with a value; nothing where it is good. */
  check?: (value: number | null) => string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | null] }>()

const problem = ref('')
// What was wrong was wrong with what was typed, not with what stands there now.
watch(
  () => props.modelValue,
  () => (problem.value = ''),
)
const shown = (value: number | null): string =>
  value === null ? '' : props.isDate ? dateText(value) : valueText(value)

function changed(typed: string): void {
  const text = typed.trim()
  const value = text === '' ? null : parsePlace(text, props.isDate ?? false)
  problem.value = Number.isNaN(value)
    ? whyNoPlace(text, props.isDate ?? false)
    : (props.check?.(value) ?? '')
  if (problem.value === '') emit('update:modelValue', value)
}
</script>

<template>
  <UiText
    :label="label"
    :model-value="shown(modelValue)"
    :placeholder="placeholder"
    :error="problem"
    :bare="bare"
    :numeric="!isDate"
    @update:model-value="changed"
  />
</template>
