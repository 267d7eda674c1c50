<script setup lang="ts">
/** The frame of everything that stands on the right in the readings' place. */
import { useSide } from '@/stores/side'

defineProps<{
  heading: string
  /** What it is, for a screen reader. */
  label: string
}>()
const emit = defineEmits<{ close: [] }>()

const side = useSide()

function close(): void {
  side.rest()
  emit('close')
}
</script>

<template>
  <section class="card panel" :aria-label="label">
    <header class="panel__head">
      <h2 class="panel__title">{{ heading }}</h2>
      <button type="button" class="link" @click="close">Readings</button>
    </header>
    <slot />
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}

.panel__head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

.panel__title {
  font-size: 16px;
  font-weight: 600;
}
</style>
