<script setup lang="ts">
/** A scene to look at: a plate, or a matrix. */
import { computed, useTemplateRef } from 'vue'
import type { Scene } from '@/render/scene'
import { facesOf } from '@/canvas/fonts'
import { useFigureCanvas } from '@/canvas/figure-canvas'
import type { RenderedFigure } from '@/render/figure'

const props = defineProps<{
  scene: () => Scene
  figures: RenderedFigure[]
  spoken: string
  summary?: string
}>()
const emit = defineEmits<{
  pick: [x: number, y: number]
  point: [x: number, y: number]
  leave: []
}>()

const host = useTemplateRef('host')
const canvas = useTemplateRef('canvas')
const made = computed(() => props.scene())
const page = computed(() => made.value)
const { size, place } = useFigureCanvas({
  host,
  canvas,
  page,
  faces: () => [...new Set(props.figures.flatMap(({ document }) => facesOf(document)))],
  // Laid out again once the fonts are there.
  scene: () => props.scene(),
})
</script>

<template>
  <div ref="host" class="host">
    <div class="page" :style="{ width: `${size.width}px`, height: `${size.height}px` }">
      <canvas
        ref="canvas"
        class="canvas"
        role="img"
        :aria-label="spoken"
        :aria-description="summary"
        @click="emit('pick', ...place($event))"
        @pointerdown="emit('point', ...place($event))"
        @pointermove="emit('point', ...place($event))"
        @pointerleave="emit('leave')"
      />
    </div>
  </div>
</template>
