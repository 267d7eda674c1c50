<script setup lang="ts">
/** A figure or a plate in the ledger: its small picture, and its name. */
defineProps<{ open: boolean; title: string; name: string }>()
const emit = defineEmits<{ open: [] }>()
</script>

<template>
  <button
    type="button"
    class="figure"
    :class="{ 'figure--open': open }"
    :aria-current="open ? 'true' : undefined"
    :title="title"
    @click="emit('open')"
  >
    <slot />
    <span class="figure__name">{{ name }}</span>
  </button>
</template>

<style scoped>
.figure {
  width: 100%;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--raised);
  padding: 0 0 3px;
  cursor: pointer;
  text-align: left;
  overflow: hidden;
}

.figure--open {
  box-shadow: 0 0 0 1.5px var(--accent);
  border-color: var(--accent);
}

.figure__name {
  font-size: 12.5px;
  line-height: 15px;
  margin: 2px 6px 0;
  overflow: hidden;
  /* Two lines, and a sign that there is more. */
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  height: 30px;
  color: var(--soft-ink);
}
</style>
