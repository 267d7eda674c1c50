<script setup lang="ts">
import UiApp from '@/ui/UiApp.vue'
import { useFocusKept } from '@/ui/composables/focus-kept'
import { failure } from '@/stores/failures'

useFocusKept()
</script>

<template>
  <UiApp v-model:failure="failure"><router-view /></UiApp>
</template>
