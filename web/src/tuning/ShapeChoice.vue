<script setup lang="ts">
/** One of the markers, each shown as it is drawn. */
import { CONTOURS, SHAPES, type Shape } from '@/drawing/marks/shapes'

defineProps<{ label: string; value: Shape | null; none?: string }>()
const emit = defineEmits<{ set: [shape: Shape | null] }>()

const outline = (shape: Shape): string =>
  CONTOURS[shape]
    .map((contour) => {
      const points = []
      for (let i = 0; i < contour.length; i += 2)
        points.push(`${(contour[i] * 11 + 10).toFixed(1)} ${(contour[i + 1] * 11 + 10).toFixed(1)}`)
      return `M${points.join('L')}Z`
    })
    .join('')
</script>

<template>
  <div class="shapes" role="group" :aria-label="label">
    <button
      v-if="none"
      type="button"
      class="choice none"
      :aria-pressed="value === null"
      @click="emit('set', null)"
    >
      {{ none }}
    </button>
    <button
      v-for="shape in SHAPES"
      :key="shape"
      type="button"
      class="choice shape"
      :aria-pressed="value === shape"
      :aria-label="shape"
      :title="shape"
      @click="emit('set', shape)"
    >
      <svg viewBox="0 0 20 20" width="20" height="20" aria-hidden="true">
        <path :d="outline(shape)" fill="currentColor" fill-rule="evenodd" />
      </svg>
    </button>
  </div>
</template>

<style scoped>
.shapes {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 4px;
}

.none {
  grid-column: 1 / -1;
  justify-self: start;
}

.shape {
  padding: 4px;
  line-height: 0;
  color: var(--ink);
}
</style>
