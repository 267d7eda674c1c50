<script setup lang="ts">
/** A pair of variables in a few dots. */
import { computed } from 'vue'

const props = withDefaults(
  defineProps<{
    /** From 0 to 1. */
    across: readonly number[]
    up: readonly number[]
    width?: number
    height?: number
  }>(),
  { width: 40, height: 28 },
)

const dots = computed(() =>
  props.across
    .map((x, i) => {
      const place = [2 + x * (props.width - 4), props.height - 2 - props.up[i] * (props.height - 4)]
      return `M${place.map((v) => v.toFixed(1)).join(' ')}h.01`
    })
    .join(''),
)
</script>

<template>
  <svg
    class="pair-picture"
    :viewBox="`0 0 ${width} ${height}`"
    :width="width"
    :height="height"
    aria-hidden="true"
  >
    <path :d="dots" fill="none" stroke="currentColor" stroke-width="2" stroke-linecap="round" />
  </svg>
</template>

<style scoped>
.pair-picture {
  color: var(--accent);
  background: var(--paper);
  border-radius: var(--radius-small);
}
</style>
