<script setup lang="ts" generic="Value extends string | null">
/** A variable, found by typing a part of its name. */
import UiField from './UiField.vue'

defineProps<{
  label: string
  modelValue: Value | null
  options: readonly { value: Value; label: string }[]
  bare?: boolean
  placeholder?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: Value] }>()
</script>

<template>
  <component :is="bare ? 'div' : UiField" :label="label" class="ui-select">
    <v-autocomplete
      :model-value="modelValue"
      :items="options as unknown[]"
      item-title="label"
      item-value="value"
      :aria-label="label"
      :placeholder="placeholder"
      :list-props="{ 'aria-label': label } as object"
      auto-select-first="exact"
      no-data-text="No variable is called so"
      @update:model-value="emit('update:modelValue', $event as Value)"
    />
  </component>
</template>
