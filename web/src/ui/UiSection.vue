<script setup lang="ts">
/** Controls that are needed now and then: out of sight until their heading is opened. */
import { ref } from 'vue'

const props = defineProps<{ heading: string; open?: boolean }>()
const shown = ref(props.open ? 0 : undefined)
</script>

<template>
  <v-expansion-panels v-model="shown" class="ui-section">
    <v-expansion-panel>
      <v-expansion-panel-title :ripple="false">{{ heading }}</v-expansion-panel-title>
      <v-expansion-panel-text><slot /></v-expansion-panel-text>
    </v-expansion-panel>
  </v-expansion-panels>
</template>
