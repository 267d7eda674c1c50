<script setup lang="ts">
/** Says once, to those who cannot see it, what was done, what a figure shows now and what it reads. */
import { ref, watch } from 'vue'
import type { Answer } from '@/api/types'
import { sentenceOf } from '@/kinds'
import { fitsOf } from '@/render/fits'
import { countOf } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import { useAnnouncer } from '@/stores/announcer'
import { useStudy } from '@/stores/study'

const MOST_SAID = 4

const figure = useFigure()
const studies = useStudy()
const said = useAnnouncer()
const shows = ref('')

/** What the lines say: one of them by itself, several each with its group, and how they compare. */
function readingOf(answer: Answer): string {
  const fits = fitsOf(answer).filter(({ report }) => report.sentence)
  if (fits.length < 2) return fits[0]?.report.sentence ?? ''
  const each = fits
    .slice(0, MOST_SAID)
    .map(({ report, family_label }) => `${report.group ?? family_label}: ${report.sentence}`)
  const more = fits.length - each.length
  return [
    ...each,
    ...(more > 0 ? [`And ${countOf(more, 'more line')}.`] : []),
    ...answer.slopes.map(({ sentence }) => sentence),
  ].join(' ')
}

watch(
  () => figure.drawn?.answer,
  (answer) => {
    const { drawn } = figure
    if (!answer || !drawn) return
    const sentence = sentenceOf(drawn.document, studies.variableOf)
    const drawnMarks = countOf(answer.counts.drawn, 'mark')
    shows.value = `${sentence}. ${drawnMarks} drawn. ${readingOf(answer)}`
  },
)
</script>

<template>
  <div class="out-of-sight" aria-live="polite" data-testid="announced">
    <p :key="said.count">{{ said.deed }}</p>
    <p>{{ shows }}</p>
  </div>
</template>
