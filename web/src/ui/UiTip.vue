<script setup lang="ts">
/** What a control does, or why it is off, where its words do not say all: said to hand, key and ear. */
defineProps<{ text: string }>()
</script>

<template>
  <v-tooltip activator="parent" :text="text" location="bottom" :open-delay="400" max-width="280" />
</template>
