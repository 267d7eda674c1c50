<script setup lang="ts">
/** What takes longer than half a second, with a way to stop it. */
import UiAction from './UiAction.vue'

defineProps<{
  label: string
  share?: number | null
  canStop?: boolean
  /** Whether it is shown only where it does take long: what is quick would flash. */
  late?: boolean
}>()
const emit = defineEmits<{ stop: [] }>()
</script>

<template>
  <div class="ui-progress" :class="{ 'ui-progress--late': late }" role="status">
    <span>{{ label }}</span>
    <v-progress-linear
      :model-value="(share ?? 0) * 100"
      :indeterminate="share === null || share === undefined"
      :aria-label="label"
    />
    <UiAction v-if="canStop" kind="words" @click="emit('stop')">Stop</UiAction>
  </div>
</template>
