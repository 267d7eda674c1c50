<script setup lang="ts">
/** The frame of everything that stands on the right in the readings' place. */
import { openerNow, useSide } from '@/stores/side'
import UiPanel from '@/ui/UiPanel.vue'

defineProps<{
  heading: string
  /** What it is, for a screen reader. */
  label?: string
}>()
const emit = defineEmits<{ close: [] }>()

const side = useSide()
/** What was clicked on the figure leaves the focus there; what was opened here takes it. */
const { opener } = side

function close(): void {
  side.rest()
  emit('close')
}
</script>

<template>
  <UiPanel
    :heading="heading"
    :label="label"
    :opener="opener && (() => openerNow(opener!))"
    back="Readings"
    @close="close"
    ><slot
  /></UiPanel>
</template>
