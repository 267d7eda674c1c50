<script setup lang="ts">
/** A reading that warns, with its rows and its remedy. */
import type { Caution, Trend } from '@/api/types'
import { addressOfPassage, OF_CAUTIONS } from '@/lib/guide-links'
import { kindOf } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'

const props = defineProps<{ caution: Caution }>()
const emit = defineEmits<{ rows: [rows: number[], title: string] }>()

const THIN_OPACITY = 0.25

const figure = useFigure()
const side = useSide()

const findErrors = (errors: Trend['errors']): void =>
  figure.edit((draft) => {
    for (const trend of draft.trends) trend.errors = errors
  })

const REMEDIES: Record<NonNullable<Caution['remedy']>, { label: string; act: () => void }> = {
  fit_each: {
    label: 'Fit each',
    act: () =>
      figure.edit((draft) => {
        if (draft.colour) kindOf(draft).fitted?.each(draft, draft.colour.variable)
      }),
  },
  allow_unequal: {
    label: 'Use robust (HC3) intervals',
    act: () => findErrors('hc3'),
  },
  cluster: {
    label: 'Use standard errors by cluster',
    act: () =>
      figure.edit((draft) => {
        for (const trend of draft.trends)
          Object.assign(trend, { errors: 'cluster', clusters: props.caution.variable })
      }),
  },
  resample: {
    label: 'Use bootstrap intervals',
    act: () => findErrors('bootstrap'),
  },
  compare: {
    label: 'Compare trends',
    act: () => side.show({ kind: 'compare', trend: 0, group: props.caution.group }),
  },
  thin_marks: {
    label: 'Make points more transparent',
    act: () =>
      figure.edit((draft) => {
        draft.marks.opacity = THIN_OPACITY
      }),
  },
}
</script>

<template>
  <article class="wrong caution">
    <h2 class="cards__title">{{ caution.title }}</h2>
    <p>
      {{ caution.text }}
      <UiAction
        v-if="caution.rows.length"
        kind="caution"
        @click="emit('rows', caution.rows, caution.title)"
      >
        Show in table
      </UiAction>
      <template v-if="caution.rows.length && caution.remedy"> · </template>
      <UiAction v-if="caution.remedy" kind="caution" @click="REMEDIES[caution.remedy].act()">
        {{ REMEDIES[caution.remedy].label }}
      </UiAction>
      <template v-if="caution.rows.length || caution.remedy"> · </template>
      <router-link :to="addressOfPassage(OF_CAUTIONS)" class="link link--caution"
        >How this is found</router-link
      >
    </p>
  </article>
</template>

<style scoped>
.caution p {
  color: var(--ink);
  line-height: 1.38;
}
</style>
