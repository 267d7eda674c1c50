<script setup lang="ts">
/** A figure or a plate in the sidebar: its small picture, and its name. */
import UiAction from '@/ui/UiAction.vue'

defineProps<{ open: boolean; title: string; name: string }>()
const emit = defineEmits<{ open: [] }>()
</script>

<template>
  <UiAction
    kind="row"
    class="card figure"
    :class="{ 'figure--open': open }"
    :aria-current="open ? 'true' : undefined"
    :tip="title"
    @click="emit('open')"
  >
    <slot />
    <span class="quiet small figure__name">{{ name }}</span>
  </UiAction>
</template>

<style scoped>
.figure.ui-action {
  padding: 0 0 4px;
  overflow: hidden;
}

.figure--open.ui-action {
  box-shadow: 0 0 0 1.5px var(--accent);
}

.figure__name {
  line-height: 15px;
  margin: 2px 6px 0;
  overflow: hidden;
  /* Two lines, and a sign that there is more. */
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  height: 30px;
}
</style>
