<script setup lang="ts">
import UiApp from '@/ui/UiApp.vue'
import { failure } from './failures'
</script>

<template>
  <UiApp v-model:failure="failure"><router-view /></UiApp>
</template>
