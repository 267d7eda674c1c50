<script setup lang="ts">
/** Says once, to those who cannot see it, what was done, what a figure shows now and what it reads. */
import { ref, watch } from 'vue'
import { sentenceOf } from '@/kinds'
import { fitsOf } from '@/render/fits'
import { countOf } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import { useAnnouncer } from '@/stores/announcer'
import { useStudy } from '@/stores/study'

const figure = useFigure()
const studies = useStudy()
const said = useAnnouncer()
const shows = ref('')

watch(
  () => figure.drawn?.answer,
  (answer) => {
    const { drawn } = figure
    if (!answer || !drawn) return
    const sentence = sentenceOf(drawn.document, studies.variableOf)
    const reading = fitsOf(answer).find(({ report }) => report.sentence)?.report.sentence ?? ''
    const drawnMarks = countOf(answer.counts.drawn, 'mark')
    shows.value = `${sentence}. ${drawnMarks} drawn. ${reading}`
  },
)
</script>

<template>
  <div class="out-of-sight" aria-live="polite" data-testid="announced">
    <p :key="said.count">{{ said.deed }}</p>
    <p>{{ shows }}</p>
  </div>
</template>
