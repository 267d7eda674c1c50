<script setup lang="ts">
/** The frame of everything that stands on the right in the readings' place. */
import { useSide } from '@/stores/side'
import UiPanel from '@/ui/UiPanel.vue'

defineProps<{
  heading: string
  /** What it is, for a screen reader. */
  label?: string
}>()
const emit = defineEmits<{ close: [] }>()

const side = useSide()

function close(): void {
  side.rest()
  emit('close')
}
</script>

<template>
  <UiPanel :heading="heading" :label="label" back="Readings" @close="close"><slot /></UiPanel>
</template>
