<script setup lang="ts">
/** A reading that warns, with its rows and its remedy. */
import type { Caution } from '@/api/types'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'

const props = defineProps<{ caution: Caution }>()
const emit = defineEmits<{ rows: [rows: number[], title: string] }>()

const THIN_OPACITY = 0.25

const figure = useFigure()
const side = useSide()

const REMEDIES: Record<NonNullable<Caution['remedy']>, { label: string; act: () => void }> = {
  set_aside: {
    label: 'Set aside',
    act: () =>
      figure.edit((draft) => {
        draft.set_aside = [...new Set([...draft.set_aside, ...props.caution.rows])]
      }),
  },
  fit_each: {
    label: 'Fit each',
    act: () =>
      figure.edit((draft) => {
        for (const trend of draft.trends) trend.by = draft.colour?.variable ?? null
      }),
  },
  compare: {
    label: 'Compare forms',
    act: () => side.show({ kind: 'compare', trend: 0, group: props.caution.group }),
  },
  thin_marks: {
    label: 'Thinner marks',
    act: () =>
      figure.edit((draft) => {
        draft.marks.opacity = THIN_OPACITY
      }),
  },
}
</script>

<template>
  <article class="card caution">
    <h2 class="caution__title">{{ caution.title }}</h2>
    <p>
      {{ caution.text }}
      <button
        v-if="caution.rows.length"
        type="button"
        class="link link--caution"
        @click="emit('rows', caution.rows, caution.title)"
      >
        Look
      </button>
      <template v-if="caution.rows.length && caution.remedy"> · </template>
      <button
        v-if="caution.remedy"
        type="button"
        class="link link--caution"
        @click="REMEDIES[caution.remedy].act()"
      >
        {{ REMEDIES[caution.remedy].label }}
      </button>
    </p>
  </article>
</template>

<style scoped>
.caution {
  background: var(--caution-ground);
  padding: 10px 12px;
  font-size: 14px;
  line-height: 1.38;
  box-shadow: none;
}

.caution__title {
  font-size: 15px;
  font-weight: 600;
  color: var(--caution);
}

.caution .link {
  font-weight: 600;
}
</style>
