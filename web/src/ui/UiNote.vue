<script setup lang="ts">
/** A sentence beside controls: what they do, or what is wrong. */
defineProps<{ kind?: 'quiet' | 'wrong' | 'plain' }>()
</script>

<template>
  <p
    class="ui-note"
    :class="`ui-note--${kind ?? 'quiet'}`"
    :role="kind === 'wrong' ? 'alert' : undefined"
  >
    <slot />
  </p>
</template>
