<script setup lang="ts">
/** The frame of everything: its theme, and what is said where something fails. */
import UiAction from './UiAction.vue'

const failure = defineModel<string>('failure', { required: true })
</script>

<template>
  <v-app>
    <slot />
    <v-snackbar
      :model-value="failure !== ''"
      color="error"
      timeout="8000"
      @update:model-value="failure = ''"
    >
      {{ failure }}
      <template #actions>
        <UiAction kind="words" class="ui-on-colour" @click="failure = ''">Close</UiAction>
      </template>
    </v-snackbar>
  </v-app>
</template>
