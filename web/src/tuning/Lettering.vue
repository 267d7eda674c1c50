<script setup lang="ts">
/** How one part's words are written. */
import { computed } from 'vue'
import { blankLettering } from '@/api/blank'
import type { Lettering } from '@/api/types'
import type { Written } from '@/drawing/text/lettering'
import { useFigure } from '@/stores/figure'
import Choice from './Choice.vue'
import ColourField from './ColourField.vue'
import Folded from './Folded.vue'
import Slider from './Slider.vue'

const props = defineProps<{ part: Written; heading: string }>()

const FACES = [
  { value: 'sans', label: 'sans' },
  { value: 'serif', label: 'serif' },
  { value: 'mono', label: 'of one width' },
] as const
const WEIGHTS = [
  { value: null, label: 'as usual' },
  { value: 400, label: 'regular' },
  { value: 600, label: 'bold' },
] as const

const figure = useFigure()
const own = computed(() => ({ ...blankLettering(), ...figure.document!.type.parts[props.part] }))

const set = (change: Partial<Lettering>, what = '') =>
  figure.edit((draft) => {
    draft.type.parts[props.part] = { ...own.value, ...change }
  }, what)
</script>

<template>
  <Folded :heading="heading">
    <Slider
      :label="`Size: ${heading}`"
      :value="Math.round(own.size * 100)"
      :min="50"
      :max="250"
      :step="5"
      :text="`${Math.round(own.size * 100)} %`"
      @set="set({ size: $event / 100 }, `lettering ${part}`)"
    />
    <Choice label="Face" :value="own.face" :options="FACES" @set="set({ face: $event })" />
    <Choice label="Weight" :value="own.weight" :options="WEIGHTS" @set="set({ weight: $event })" />
    <ColourField
      :label="`Colour: ${heading}`"
      :value="own.colour"
      none="as usual"
      @set="set({ colour: $event }, `letter colour ${part}`)"
    />
  </Folded>
</template>
