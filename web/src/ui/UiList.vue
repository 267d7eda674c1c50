<script setup lang="ts">
/** Things that are added, taken away and ordered. */
defineProps<{ label: string }>()
</script>

<template>
  <ul class="ui-list" :aria-label="label">
    <slot />
  </ul>
</template>
