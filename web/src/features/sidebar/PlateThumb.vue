<script setup lang="ts">
/** A plate as a small live picture: its figures in their places. */
import { ref, useTemplateRef } from 'vue'
import type { Plate } from '@/api/types'
import { paintScene } from '@/render/paint/canvas'
import { columnsOf, rowsOf } from '@/plates/layout'
import { thumbnail } from '@/kinds/renderers'
import { variedDocument } from '@/plates/variation'
import { useSmallAnswers } from '@/stores/small-answers'
import { useStudy } from '@/stores/study'
import { drawnInSight } from '@/stores/visible-thumbnail'

const WIDTH = 98
const HEIGHT = 60
const MOST_MARKS = 300
const GAP = 2

const props = defineProps<{ plate: Plate }>()

const studies = useStudy()
const small = useSmallAnswers()
const canvas = useTemplateRef('canvas')
const failed = ref(false)

async function draw(signal: AbortSignal): Promise<boolean> {
  const { document } = props.plate
  const [columns, rows] = [columnsOf(document), rowsOf(document)]
  const width = (WIDTH - GAP * (columns - 1)) / columns
  const height = (HEIGHT - GAP * (rows - 1)) / rows
  const pixels = window.devicePixelRatio
  try {
    const pictures = await Promise.all(
      document.cells.map(async ({ figure, varied }) => {
        const source = studies.figures.find(({ id }) => id === figure)
        if (!source) return null
        const shown = variedDocument(source.document, varied)
        const answered = await small.ask(shown, MOST_MARKS, signal)
        return thumbnail({ document: shown, ...answered }, width, height)
      }),
    )
    const target = canvas.value
    if (!target || signal.aborted) return false
    target.width = WIDTH * pixels
    target.height = HEIGHT * pixels
    const context = target.getContext('2d')!
    pictures.forEach((scene, i) => {
      if (!scene) return
      const small = new OffscreenCanvas(Math.ceil(width * pixels), Math.ceil(height * pixels))
      paintScene(scene, small.getContext('2d')!, (pixels * width) / scene.width)
      const [c, r] = [i % columns, Math.floor(i / columns)]
      context.drawImage(small, c * (width + GAP) * pixels, r * (height + GAP) * pixels)
    })
    failed.value = false
  } catch {
    // A plate that cannot be drawn says why when it is opened.
    failed.value = !signal.aborted
  }
  return !failed.value
}

/** Everything that the picture rests on: the plate, its figures, and what these rest on. */
const picture = (): string =>
  JSON.stringify([
    props.plate.revision,
    props.plate.document.cells.map(({ figure }) => {
      const source = studies.figures.find(({ id }) => id === figure)
      return source && [source.document, small.key(source.document, MOST_MARKS)]
    }),
  ])

drawnInSight(props.plate.id, canvas, picture, draw)
</script>

<template>
  <canvas ref="canvas" class="thumb" :class="{ 'thumb--failed': failed }" aria-hidden="true" />
</template>

<style scoped>
.thumb {
  display: block;
  width: 98px;
  height: 60px;
  border-radius: var(--radius-small);
  background: var(--line);
}

.thumb--failed {
  opacity: 0.3;
}
</style>
