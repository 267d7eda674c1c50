<script setup lang="ts">
/** A figure as a small live picture. */
import { ref, useTemplateRef } from 'vue'
import type { Figure } from '@/api/types'
import { thinned } from '@/render/marks/thinning'
import { paintScene } from '@/render/paint/canvas'
import { thumbnail } from '@/kinds/renderers'
import { useFigure } from '@/stores/figure'
import { useSmallAnswers } from '@/stores/small-answers'
import { drawnInSight } from '@/stores/visible-thumbnail'

const MOST_MARKS = 1500

const props = withDefaults(
  defineProps<{ figure: Figure; open: boolean; width?: number; height?: number }>(),
  { width: 98, height: 60 },
)

const opened = useFigure()
const small = useSmallAnswers()
const canvas = useTemplateRef('canvas')
const failed = ref(false)

const pictureOf = ({ document, revision }: Figure): string =>
  JSON.stringify([revision, document, small.key(document, MOST_MARKS)])

async function draw(signal: AbortSignal): Promise<boolean> {
  // The open figure's answer is here already.
  const held = props.open && !opened.isPart ? opened.drawn : null
  try {
    const document = (props.open && opened.drawn?.document) || props.figure.document
    const { answer, marks } = held ?? (await small.ask(document, MOST_MARKS, signal))
    const target = canvas.value
    if (!target || signal.aborted) return false
    const pixels = window.devicePixelRatio
    const { width, height } = props
    target.width = width * pixels
    target.height = height * pixels
    const few = answer.cells ? marks : thinned(marks, MOST_MARKS)
    const scene = thumbnail({ document, answer, marks: few }, width, height)
    paintScene(scene, target.getContext('2d')!, (pixels * width) / scene.width)
    failed.value = false
  } catch {
    // A figure that cannot be drawn says why when it is opened.
    failed.value = !signal.aborted
  }
  return !failed.value
}

drawnInSight(
  `${props.figure.id} ${props.width}`,
  canvas,
  // What is drawn, and everything that it rests on: data, categories, and the document itself.
  () => (props.open ? opened.drawn : pictureOf(props.figure)),
  draw,
)
</script>

<template>
  <canvas
    ref="canvas"
    class="thumb"
    :class="{ 'thumb--failed': failed }"
    :style="{ width: `${width}px`, height: `${height}px` }"
    aria-hidden="true"
  />
</template>

<style scoped>
.thumb {
  display: block;
  border-radius: var(--radius-small);
  background: var(--paper);
}

.thumb--failed {
  opacity: 0.3;
}
</style>
