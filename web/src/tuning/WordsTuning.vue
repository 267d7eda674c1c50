<script setup lang="ts">
/** The words round the figure, its text size, its page. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import ColourField from './ColourField.vue'
import Slider from './Slider.vue'

const PARTS = [
  { part: 'title', label: 'Title', none: 'No title' },
  { part: 'subtitle', label: 'Subtitle', none: 'No subtitle' },
  { part: 'caption', label: 'Caption', none: 'No caption' },
] as const

const figure = useFigure()
const document = computed(() => figure.document!)

function set(part: (typeof PARTS)[number]['part'], event: Event): void {
  const text = (event.target as HTMLInputElement).value
  figure.edit((draft) => {
    draft[part] = text.trim() === '' ? null : text
  }, part)
}
</script>

<template>
  <label v-for="{ part, label, none } in PARTS" :key="part" class="field">
    {{ label }}
    <input
      :value="document[part] ?? ''"
      maxlength="500"
      :placeholder="none"
      @input="set(part, $event)"
    />
  </label>
  <Slider
    label="Text size of the figure"
    :value="Math.round(document.type.scale * 100)"
    :min="50"
    :max="250"
    :step="5"
    :text="`${Math.round(document.type.scale * 100)} %`"
    @set="figure.edit((draft) => (draft.type.scale = $event / 100), 'text size')"
  />
  <ColourField
    label="Background"
    :value="document.page.background"
    @set="figure.edit((draft) => (draft.page.background = $event ?? '#ffffff'), 'background')"
  />
  <button
    type="button"
    class="link"
    @click="figure.edit((draft) => (draft.page.background = '#ffffff'))"
  >
    White paper
  </button>
  <ColourField
    label="Frame round the page"
    :value="document.page.frame"
    none="no frame"
    @set="figure.edit((draft) => (draft.page.frame = $event), 'frame')"
  />
</template>
