<script setup lang="ts">
/** A panel beside the figure: it takes the focus when it opens, and gives it back. */
import { nextTick, onMounted, onUnmounted, useTemplateRef } from 'vue'
import UiAction from './UiAction.vue'

const props = defineProps<{
  heading: string
  /** What it is, for a screen reader. */
  label?: string
  /** What closing it leads to. */
  back?: string
  /** Finds the control that opened it; null where the focus stays where it is. */
  opener?: (() => HTMLElement | null) | null
}>()
const emit = defineEmits<{ close: [] }>()

const head = useTemplateRef<HTMLElement>('head')
const { opener } = props

onMounted(() => {
  if (opener) head.value?.focus({ preventScroll: true })
})
onUnmounted(async () => {
  await nextTick()
  // The focus was inside, and went nowhere when the panel went.
  if (opener && document.activeElement === document.body) opener()?.focus({ preventScroll: true })
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
