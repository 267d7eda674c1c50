<script setup lang="ts">
/** A table that is only read. */
defineProps<{ label?: string }>()
</script>

<template>
  <v-table class="ui-table" density="compact" :aria-label="label"><slot /></v-table>
</template>
