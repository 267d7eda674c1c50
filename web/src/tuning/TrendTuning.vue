<script setup lang="ts">
/** A trend: the level of its intervals, and what of it stands on the figure. */
import { computed, ref } from 'vue'
import OnFigure from '@/readings/OnFigure.vue'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import Lettering from './Lettering.vue'

const props = defineProps<{ trend: number }>()

const figure = useFigure()
const side = useSide()
const problem = ref('')
const trend = computed(() => figure.document!.trends[props.trend])

function setLevel(event: Event): void {
  const text = (event.target as HTMLInputElement).value.replace(/[\s%\u202f]/g, '')
  const level = Number(text.replace(',', '.')) / 100
  if (!(level >= 0.5 && level <= 0.999)) {
    problem.value = 'A level lies between 50 and 99.9 %.'
    return
  }
  problem.value = ''
  figure.edit((draft) => {
    const one = draft.trends[props.trend]
    one.level = level
    if (one.bands.length === 1) one.bands[0].level = level
  })
}

function remove(): void {
  side.rest()
  figure.edit((draft) => {
    draft.trends.splice(props.trend, 1)
  })
}
</script>

<template>
  <template v-if="trend">
    <label class="field">
      Level of intervals, %
      <input :value="Number((trend.level * 100).toPrecision(4))" @change="setLevel" />
    </label>
    <p v-if="problem" class="problem" role="alert">{{ problem }}</p>
    <OnFigure :trend="props.trend" />
    <Lettering part="readings" heading="Lettering of readings" />
    <button type="button" class="link" @click="remove">Take this trend off</button>
  </template>
</template>

<style scoped>
.problem {
  font-size: 14px;
  color: var(--caution);
}
</style>
