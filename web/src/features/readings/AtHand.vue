<script setup lang="ts">
/** What can be done with the figure at any time: never below the fold, however much is said above. */
import OnFigure from '@/components/OnFigure.vue'
import TuneParts from './TuneParts.vue'

defineProps<{
  /** Whether there is a fit whose readings can stand on the figure. */
  isFitted?: boolean
}>()
</script>

<template>
  <footer class="hand">
    <OnFigure v-if="isFitted" />
    <TuneParts />
  </footer>
</template>

<style scoped>
.hand {
  position: sticky;
  bottom: 0;
  display: grid;
  gap: 4px;
  margin: auto -8px -12px;
  padding: 8px 12px;
  background: var(--raised);
  border-top: 1px solid var(--line);
}
</style>
