<script setup lang="ts">
/** The frame of everything that stands on the right in the readings' place. */
import { computed } from 'vue'
import { addressOfPassage, OF_PANELS } from '@/lib/guide-links'
import { openerNow, useSide } from '@/stores/side'
import UiPanel from '@/ui/UiPanel.vue'

const props = defineProps<{
  heading: string
  /** What it is, for a screen reader. */
  label?: string
}>()
const emit = defineEmits<{ close: [] }>()

const side = useSide()
const passage = computed(() => OF_PANELS[props.heading])
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
    ><slot />
    <p v-if="passage" class="quiet small">
      <router-link :to="addressOfPassage(passage)" class="link"
        >About this in the guide</router-link
      >
    </p></UiPanel
  >
</template>
