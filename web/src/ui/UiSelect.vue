<script setup lang="ts" generic="Value extends string | number | null">
/** One of many, under its label. */
import UiField from './UiField.vue'

defineProps<{
  label: string
  /** For a screen reader, where the label does not say all. */
  spoken?: string
  modelValue: Value | null
  options: readonly { value: Value; label: string; note?: string }[]
  bare?: boolean
  hint?: string
  disabled?: boolean
  placeholder?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: Value] }>()
</script>

<template>
  <component :is="bare ? 'div' : UiField" :label="label" :hint="hint" class="ui-select">
    <v-select
      :model-value="modelValue"
      :items="options as unknown[]"
      item-title="label"
      item-value="value"
      :aria-label="spoken ?? label"
      :list-props="{ 'aria-label': label } as object"
      :disabled="disabled"
      :placeholder="placeholder"
      @update:model-value="emit('update:modelValue', $event as Value)"
    />
  </component>
</template>
