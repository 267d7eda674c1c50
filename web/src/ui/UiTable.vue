<script setup lang="ts">
/** A table that is only read. */
defineProps<{ label?: string; tight?: boolean }>()
</script>

<template>
  <v-table
    class="ui-table"
    :class="{ 'ui-table--tight': tight }"
    density="compact"
    :aria-label="label"
    ><slot
  /></v-table>
</template>
