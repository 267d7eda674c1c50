<script setup lang="ts">
/** Says that a figure is worked out, and lets it be left off where that takes its time. */
import { onBeforeUnmount, ref } from 'vue'

const emit = defineEmits<{ stop: [] }>()

const PATIENCE = 1000

const long = ref(false)
const timer = setTimeout(() => (long.value = true), PATIENCE)
onBeforeUnmount(() => clearTimeout(timer))
</script>

<template>
  <div class="waiting" role="status">
    Working it out …
    <button v-if="long" type="button" class="link" @click="emit('stop')">Stop</button>
  </div>
</template>

<style scoped>
.waiting {
  position: absolute;
  top: 12px;
  right: 12px;
  padding: 4px 10px;
  border-radius: 6px;
  background: #eef1ec;
  color: #1d2b2a;
  font-size: 14px;
}
</style>
