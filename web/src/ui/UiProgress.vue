<script setup lang="ts">
/** What takes longer than half a second, with a way to stop it. */
import UiAction from './UiAction.vue'

defineProps<{ label: string; share?: number | null; canStop?: boolean }>()
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <div class="ui-progress" role="status">
    <span>{{ label }}</span>
    <v-progress-linear
      :model-value="(share ?? 0) * 100"
      :indeterminate="share === null || share === undefined"
      :aria-label="label"
    />
    <UiAction v-if="canStop" kind="words" @click="emit('stop')">Stop</UiAction>
  </div>
</template>
