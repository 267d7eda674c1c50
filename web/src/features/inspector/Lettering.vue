<script setup lang="ts">
/** How one part's words are written. */
import type { Written } from '@/render/text/lettering'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { letteringControls, WRITTEN } from '@/figure-model/controls/lettering'

defineProps<{ part: Written }>()
</script>

<template>
  <UiSection :heading="`Text of ${WRITTEN[part]}`">
    <Controls :of="letteringControls(part)" />
  </UiSection>
</template>
