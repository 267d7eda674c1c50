<script setup lang="ts">
/** A figure to look at: hover, zoom and keys as in the study, and nothing that changes it. */
import { computed, useTemplateRef } from 'vue'
import { contains } from '@/render/scene'
import { usePanZoomHover, type Pan } from '@/features/figure/pan-zoom-hover'
import Hover from '@/features/figure/Hover.vue'
import { sentenceOf } from '@/kinds'
import { summaryOf } from '@/kinds/summary'
import type { Shown } from './shared'

const props = defineProps<{ shown: Shown }>()

const host = useTemplateRef('host')
const canvas = useTemplateRef('canvas')
const { seen, scale, size, place, layout, hovered, only, isHome, current, goHome, ...look } =
  usePanZoomHover({
    host,
    canvas,
    figure: () => props.shown.figure,
  })
const spoken = computed(() => sentenceOf(props.shown.figure.document, props.shown.look))

let held: Pan | null = null

function press(event: PointerEvent): void {
  if (look.touch(event, true)) {
    release()
    return
  }
  const [x, y] = place(event)
  const made = layout.value
  if (event.button !== 0 || !made || !contains(made.plot, x, y)) return
  held = { x, y, view: current() }
  canvas.value!.setPointerCapture(event.pointerId)
}

function move(event: PointerEvent): void {
  if (look.byFinger(event)) return
  if (held) look.pan(held, ...place(event))
  else look.hover(event)
}

function lift(event: PointerEvent): void {
  look.touch(event, false)
  release()
}

function release(): void {
  if (held) look.letGo()
  held = null
}

/** A click on an entry of the legend fades the others; a tap asks what is there. */
function click(event: MouseEvent): void {
  look.hover(event)
  const entry = layout.value?.entries.find(({ box }) => contains(box, ...place(event)))
  only.value = entry && only.value !== entry.code ? entry.code : null
}

function key(event: KeyboardEvent): void {
  if (!event.ctrlKey && !event.metaKey && !event.altKey && look.lookByKey(event))
    event.preventDefault()
}
</script>

<template>
  <div ref="host" class="host host--shared">
    <div class="page" :style="{ width: `${size.width}px`, height: `${size.height}px` }">
      <canvas
        ref="canvas"
        class="canvas"
        :class="{ 'canvas--scrolls': isHome && !layout?.isTurned }"
        role="application"
        aria-roledescription="figure"
        :aria-label="spoken"
        :aria-description="summaryOf(shown.figure)"
        tabindex="0"
        @pointermove="move"
        @pointerdown="press"
        @pointerup="lift"
        @pointercancel="lift"
        @pointerleave="look.leave"
        @wheel="look.wheel"
        @click="click"
        @keydown="key"
        @blur="hovered = null"
      />
      <Hover
        v-if="hovered"
        :hovered="hovered"
        :scale="scale"
        :drawn="seen!"
        :row-lines="shown.rowLines"
      />
    </div>
    <div class="tools" role="toolbar" aria-label="Check the fit">
      <button type="button" class="link" aria-label="Zoom in" @click="look.zoomIn">+</button>
      <button type="button" class="link" aria-label="Zoom out" @click="look.zoomOut">−</button>
      <button type="button" class="link" :disabled="isHome" @click="goHome">Show all</button>
    </div>
  </div>
</template>

<style scoped>
.host--shared {
  position: relative;
  overflow: visible;
}

.tools {
  position: absolute;
  top: 100%;
  right: 0;
  display: flex;
  gap: 14px;
  padding-top: 6px;
}

.tools :disabled {
  opacity: 0.5;
  cursor: default;
  text-decoration: none;
}
</style>
