<script setup lang="ts" generic="Value extends string | number | boolean | null">
/** One of a few: all are seen, and one click takes one. */
import UiAction from './UiAction.vue'
import UiField from './UiField.vue'

defineProps<{
  label: string
  modelValue: Value
  options: readonly { value: Value; label: string; tip?: string }[]
  hint?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: Value] }>()
</script>

<template>
  <UiField :label="label" :hint="hint" role="group" :aria-label="label">
    <span class="ui-choice">
      <UiAction
        v-for="option in options"
        :key="String(option.value)"
        :pressed="option.value === modelValue"
        :tip="option.tip"
        @click="emit('update:modelValue', option.value)"
      >
        <slot :option="option">{{ option.label }}</slot>
      </UiAction>
    </span>
  </UiField>
</template>
