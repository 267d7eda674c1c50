<script setup lang="ts">
/** Something that is so or not. */
defineProps<{ label: string; modelValue: boolean; disabled?: boolean }>()
const emit = defineEmits<{ 'update:modelValue': [value: boolean] }>()
</script>

<template>
  <v-checkbox
    :model-value="modelValue"
    :label="label"
    :disabled="disabled"
    @update:model-value="emit('update:modelValue', Boolean($event))"
  />
</template>
