<script setup lang="ts">
/** What opens beside a word or a button, over the page. */
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <v-menu v-model="open" :close-on-content-click="false">
    <template #activator="{ props }"><slot name="opener" :props="props" /></template>
    <slot />
  </v-menu>
</template>
