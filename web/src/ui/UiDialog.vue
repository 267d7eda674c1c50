<script setup lang="ts">
/** Asks before what cannot be undone. The focus goes in, stays in, and goes back. */
import { nextTick, watch } from 'vue'
import UiAction from './UiAction.vue'
import UiRow from './UiRow.vue'

defineProps<{
  heading: string
  /** What is done where it is agreed to. */
  action: string
}>()
const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ agreed: [] }>()

let opener: Element | null = null

watch(
  open,
  async (now) => {
    if (now) opener = document.activeElement
    else {
      await nextTick()
      if (opener instanceof HTMLElement && opener.isConnected) opener.focus()
    }
  },
  { flush: 'sync' },
)

function agree(): void {
  emit('agreed')
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="440">
    <v-card class="ui-panel" role="alertdialog" :aria-label="heading">
      <h2 class="ui-panel__title">{{ heading }}</h2>
      <slot />
      <UiRow>
        <UiAction kind="grave" @click="agree">{{ action }}</UiAction>
        <UiAction @click="open = false">Keep it</UiAction>
      </UiRow>
    </v-card>
  </v-dialog>
</template>
