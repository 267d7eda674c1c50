<script setup lang="ts">
/** A panel beside the figure: it takes the focus when it opens, and gives it back. */
import { onBeforeUnmount, onMounted, useTemplateRef } from 'vue'
import UiAction from './UiAction.vue'

defineProps<{
  heading: string
  /** What it is, for a screen reader. */
  label?: string
  /** What closing it leads to. */
  back?: string
}>()
const emit = defineEmits<{ close: [] }>()

const head = useTemplateRef<HTMLElement>('head')
let before: Element | null = null

onMounted(() => {
  before = document.activeElement
  // What is being typed, and the figure under the keys, keep the focus.
  if (before instanceof HTMLElement && before.closest('[data-opens]'))
    head.value?.focus({ preventScroll: true })
})
onBeforeUnmount(() => {
  const own = head.value?.closest('.ui-panel')
  if (before instanceof HTMLElement && before.isConnected && own?.contains(document.activeElement))
    before.focus({ preventScroll: true })
})
</script>

<template>
  <v-card tag="section" class="ui-panel" :aria-label="label ?? heading">
    <header class="ui-panel__head">
      <h2 ref="head" class="ui-panel__title" tabindex="-1">{{ heading }}</h2>
      <UiAction v-if="back" kind="words" @click="emit('close')">{{ back }}</UiAction>
    </header>
    <slot />
  </v-card>
</template>
