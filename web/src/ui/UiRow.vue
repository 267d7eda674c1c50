<script setup lang="ts">
/** Things side by side; wrapped where there is no room, or of even width. */
defineProps<{ even?: boolean; label?: string }>()
</script>

<template>
  <div
    :class="even ? 'ui-row--even' : 'ui-row'"
    :role="label ? 'group' : undefined"
    :aria-label="label"
  >
    <slot />
  </div>
</template>
