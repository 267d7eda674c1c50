<script setup lang="ts">
/** Says that a figure is worked out, and lets it be left off where that takes its time. */
import { onBeforeUnmount, ref } from 'vue'
import UiAction from '@/ui/UiAction.vue'

const { done = null } = defineProps<{ done?: number | null }>()
const emit = defineEmits<{ stop: [] }>()

const PATIENCE = 1000

const long = ref(false)
const timer = setTimeout(() => (long.value = true), PATIENCE)
onBeforeUnmount(() => clearTimeout(timer))
</script>

<template>
  <div class="waiting" role="status">
    Working it out …
    <!-- Said once, not at every step. -->
    <span v-if="done" class="share" aria-hidden="true">{{ Math.round(100 * done) }}&nbsp;%</span>
    <UiAction v-if="long" kind="words" @click="emit('stop')">Stop</UiAction>
  </div>
</template>

<style scoped>
.waiting {
  position: absolute;
  top: 12px;
  right: 12px;
  padding: 4px 10px;
  border-radius: var(--radius);
  background: var(--paper-soft);
  color: var(--paper-ink);
  font-size: var(--text-small);
}
.share {
  font-variant-numeric: tabular-nums;
}
</style>
