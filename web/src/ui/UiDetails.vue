<script setup lang="ts">
/** What is there for whoever wants to know more. */
defineProps<{ words: string; label?: string }>()
</script>

<template>
  <details>
    <summary class="link details__words" :aria-label="label">{{ words }}</summary>
    <slot />
  </details>
</template>

<style scoped>
.details__words {
  list-style: none;
  width: fit-content;
}
</style>
