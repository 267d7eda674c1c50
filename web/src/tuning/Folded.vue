<script setup lang="ts">
/** Controls that are needed now and then: out of sight until their heading is opened. */
defineProps<{ heading: string }>()
</script>

<template>
  <details class="folded">
    <summary>{{ heading }}</summary>
    <div class="folded__inside"><slot /></div>
  </details>
</template>

<style scoped>
.folded {
  border-top: 1px solid var(--line);
  padding-top: 6px;
}

.folded summary {
  cursor: pointer;
  font-size: 14px;
  font-weight: 600;
  color: var(--soft-ink);
}

.folded[open] summary {
  color: var(--ink);
}

.folded__inside {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
  padding: 8px 0 4px;
}
</style>
