<script setup lang="ts">
/** Says once, to those who cannot see it, what a figure shows now and what it reads. */
import { ref, watch } from 'vue'
import { sentenceOf } from '@/kinds'
import { fitsOf } from '@/drawing/fits'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'

const figure = useFigure()
const studies = useStudy()
const said = ref('')

watch(
  () => figure.drawn?.answer,
  (answer) => {
    const { drawn } = figure
    if (!answer || !drawn) return
    const reading = fitsOf(answer).find(({ report }) => report.sentence)?.report.sentence ?? ''
    said.value = `${sentenceOf(drawn.document, studies.variableOf)}. ${reading}`
  },
)
</script>

<template>
  <p class="out-of-sight" aria-live="polite" data-testid="announced">{{ said }}</p>
</template>
