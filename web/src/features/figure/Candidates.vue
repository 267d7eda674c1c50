<script setup lang="ts">
/** Forms that are being compared, drawn faintly where they would lie. */
import { computed } from 'vue'
import type { Layout } from '@/render/layout/figure'
import { useSide, type Candidate } from '@/stores/side'

const props = defineProps<{ layout: Layout }>()

const side = useSide()

/** A curve as a path; it begins anew behind places where it has no value. */
function pathOf({ x, y }: Candidate, { x: across, y: up }: Layout): string {
  let pen = 'M'
  return x
    .map((at, i) => {
      const level = y[i]
      const place = level === null ? null : [across.toPage(at), up.toPage(level)]
      if (!place?.every(Number.isFinite)) {
        pen = 'M'
        return ''
      }
      const drawn = pen + place.map((one) => one.toFixed(1)).join(' ')
      pen = 'L'
      return drawn
    })
    .join('')
}

const curves = computed(() =>
  side.candidates.map((one) => ({ ...one, path: pathOf(one, props.layout) })),
)
</script>

<template>
  <g clip-path="url(#candidates)" data-testid="candidates">
    <clipPath id="candidates"><rect v-bind="layout.plot" /></clipPath>
    <path
      v-for="(one, i) in curves"
      :key="i"
      class="candidate"
      :class="{ 'candidate--lit': one.label === side.litCandidate }"
      :d="one.path"
    />
  </g>
</template>

<style scoped>
.candidate {
  fill: none;
  stroke: var(--paper-ink);
  stroke-width: 1.2;
  stroke-dasharray: 4 3;
  opacity: 0.3;
}

.candidate--lit {
  stroke-width: 2.4;
  stroke-dasharray: none;
  opacity: 1;
}
</style>
