<script setup lang="ts">
import { onErrorCaptured, ref } from 'vue'
import { Problem } from '@/api/client'

const problem = ref('')

/** Whatever was refused and nobody else has shown is said here; the page stays as it is. */
onErrorCaptured((error) => {
  if (!(error instanceof Problem)) return true
  problem.value = error.sentence
  return false
})
</script>

<template>
  <v-app>
    <router-view />
    <v-snackbar
      :model-value="problem !== ''"
      color="error"
      timeout="8000"
      @update:model-value="problem = ''"
    >
      {{ problem }}
      <template #actions><v-btn variant="text" @click="problem = ''">Close</v-btn></template>
    </v-snackbar>
  </v-app>
</template>
