<script setup lang="ts">
/** Asks before what cannot be undone, or shows what is read and left. The focus goes in, stays in, and goes back. */
import { nextTick, watch } from 'vue'
import UiAction from './UiAction.vue'
import UiRow from './UiRow.vue'

defineProps<{
  heading: string
  /** What is done where it is agreed to; where there is nothing to agree to, it is only left. */
  action?: string
  wide?: boolean
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
  <v-dialog
    v-model="open"
    :max-width="wide ? 760 : 440"
    scrollable
    :role="action ? 'alertdialog' : 'dialog'"
    :aria-label="heading"
  >
    <v-card class="ui-panel">
      <h2 class="ui-panel__title">{{ heading }}</h2>
      <slot />
      <UiRow>
        <UiAction v-if="action" kind="grave" @click="agree">{{ action }}</UiAction>
        <UiAction @click="open = false">{{ action ? 'Keep it' : 'Close' }}</UiAction>
      </UiRow>
    </v-card>
  </v-dialog>
</template>
