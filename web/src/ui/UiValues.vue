<script setup lang="ts">
/** Values under their names, in a list of two columns. */
defineProps<{ of: readonly { name: string; label: string; value: string }[] }>()
</script>

<template>
  <dl class="numbers values">
    <template v-for="line in of" :key="line.name">
      <dt>{{ line.label }}</dt>
      <dd>{{ line.value }}</dd>
    </template>
  </dl>
</template>
