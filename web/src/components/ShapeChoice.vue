<script setup lang="ts">
/** One of the markers, each shown as it is drawn. */
import UiAction from '@/ui/UiAction.vue'
import UiField from '@/ui/UiField.vue'
import { CONTOURS, SHAPES, type Shape } from '@/render/marks/shapes'

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
  <UiField :label="label" role="group" :aria-label="label">
    <span class="ui-choice">
      <UiAction v-if="none" :pressed="value === null" @click="emit('set', null)">
        {{ none }}
      </UiAction>
      <UiAction
        v-for="shape in SHAPES"
        :key="shape"
        class="ui-shape"
        :pressed="value === shape"
        :label="shape"
        :tip="shape"
        @click="emit('set', shape)"
      >
        <svg viewBox="0 0 20 20" width="20" height="20" aria-hidden="true">
          <path :d="outline(shape)" fill="currentColor" fill-rule="evenodd" />
        </svg>
      </UiAction>
    </span>
  </UiField>
</template>
