<script setup lang="ts">
/** All marks: shape, size, opacity. */
import { computed } from 'vue'
import { opacityFor } from '@/drawing/crowding'
import { CONTOURS, SHAPES } from '@/drawing/shapes'
import { useFigure } from '@/stores/figure'

const figure = useFigure()
const marks = computed(() => figure.document!.marks)
const chosenByItself = computed(() => {
  const { width, height } = figure.document!.page
  const count = figure.drawn?.answer.counts.drawn ?? 0
  return opacityFor(count, marks.value.size, width * height * 0.7)
})
const opacity = computed(() => marks.value.opacity ?? chosenByItself.value)

const outline = (shape: (typeof SHAPES)[number]): string =>
  CONTOURS[shape]
    .map((contour) => {
      const points = []
      for (let i = 0; i < contour.length; i += 2)
        points.push(`${(contour[i] * 11 + 10).toFixed(1)} ${(contour[i + 1] * 11 + 10).toFixed(1)}`)
      return `M${points.join('L')}Z`
    })
    .join('')

function setShape(shape: (typeof SHAPES)[number]): void {
  figure.edit((draft) => {
    draft.marks.shape = shape
  })
}

function setSize(size: number): void {
  figure.edit((draft) => {
    draft.marks.size = size
  }, 'mark size')
}

function setOpacity(value: number | null): void {
  figure.edit((draft) => {
    draft.marks.opacity = value
  }, 'opacity')
}
</script>

<template>
  <div class="shapes" role="group" aria-label="Marker">
    <button
      v-for="shape in SHAPES"
      :key="shape"
      type="button"
      class="choice shape"
      :aria-pressed="marks.shape === shape"
      :aria-label="shape"
      :title="shape"
      @click="setShape(shape)"
    >
      <svg viewBox="0 0 20 20" width="20" height="20" aria-hidden="true">
        <path :d="outline(shape)" fill="currentColor" fill-rule="evenodd" />
      </svg>
    </button>
  </div>
  <div class="slider">
    <span>Size</span><output>{{ marks.size }} pt</output>
    <input
      type="range"
      aria-label="Size"
      min="1"
      max="24"
      step="0.5"
      :value="marks.size"
      @input="setSize(Number(($event.target as HTMLInputElement).value))"
    />
  </div>
  <div class="slider">
    <span>Opacity</span><output>{{ Math.round(opacity * 100) }} %</output>
    <input
      type="range"
      aria-label="Opacity"
      min="2"
      max="100"
      :value="Math.round(opacity * 100)"
      @input="setOpacity(Number(($event.target as HTMLInputElement).value) / 100)"
    />
  </div>
  <button v-if="marks.opacity !== null" type="button" class="link" @click="setOpacity(null)">
    Choose opacity from the crowding
  </button>
</template>

<style scoped>
.shapes {
  display: grid;
  grid-template-columns: repeat(6, 1fr);
  gap: 4px;
}

.shape {
  padding: 4px;
  line-height: 0;
  color: var(--ink);
}

.slider {
  display: grid;
  grid-template-columns: 1fr auto;
  font-size: 14px;
  color: var(--soft-ink);
}

.slider input {
  grid-column: 1 / -1;
  accent-color: var(--accent);
  width: 100%;
}

.slider output {
  color: var(--ink);
}
</style>
