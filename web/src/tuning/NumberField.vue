<script setup lang="ts">
/** A number, or a date, typed; an empty field leaves it to Yarrowdew. */
import { ref } from 'vue'
import { dateText, valueText } from '@/drawing/geometry/ticks'
import { parsePlace } from './parse'

const props = defineProps<{
  label: string
  value: number | null
  placeholder?: string
  isDate?: boolean
  /** Says what is wrong with a value; nothing where it is good. */
  check?: (value: number | null) => string
}>()
const emit = defineEmits<{ set: [value: number | null] }>()

const problem = ref('')
const shown = (value: number | null): string =>
  value === null ? '' : props.isDate ? dateText(value) : valueText(value)

function changed(event: Event): void {
  const text = (event.target as HTMLInputElement).value.trim()
  const value = text === '' ? null : parsePlace(text, props.isDate ?? false)
  problem.value = Number.isNaN(value)
    ? `“${text}” is not ${props.isDate ? 'a date such as 2031-04-01' : 'a number'}.`
    : (props.check?.(value) ?? '')
  if (problem.value === '') emit('set', value)
}
</script>

<template>
  <label class="field">
    {{ label }}
    <input v-held="shown(value)" :placeholder="placeholder" @change="changed" />
    <span v-if="problem" class="field__problem" role="alert">{{ problem }}</span>
  </label>
</template>

<style scoped>
.field__problem {
  font-size: 14px;
  color: var(--caution);
}
</style>
