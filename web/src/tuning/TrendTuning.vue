<script setup lang="ts">
/** A trend: the level of its intervals, and what of it stands on the figure. */
import { computed, ref } from 'vue'
import type { OnFigure } from '@/api/types'
import { useFigure } from '@/stores/figure'

const props = defineProps<{ trend: number }>()

const ON_FIGURE: { what: OnFigure; label: string }[] = [
  { what: 'equation', label: 'equation' },
  { what: 'r_squared', label: 'R²' },
  { what: 'r', label: 'r' },
  { what: 'p_value', label: 'p' },
  { what: 'n', label: 'n' },
]

const figure = useFigure()
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

function toggle(what: OnFigure): void {
  figure.edit((draft) => {
    const one = draft.trends[props.trend]
    const has = one.on_figure.includes(what)
    const wanted = has ? one.on_figure.filter((w) => w !== what) : [...one.on_figure, what]
    one.on_figure = ON_FIGURE.map((o) => o.what).filter((w) => wanted.includes(w))
  })
}

function remove(): void {
  figure.tuned = null
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
    <div class="shown" role="group" aria-label="On the figure">
      <span class="quiet">On the figure:</span>
      <button
        v-for="{ what, label } in ON_FIGURE"
        :key="what"
        type="button"
        class="choice"
        :aria-pressed="trend.on_figure.includes(what)"
        @click="toggle(what)"
      >
        {{ label }}
      </button>
    </div>
    <button type="button" class="link" @click="remove">Take this trend off</button>
  </template>
</template>

<style scoped>
.shown {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
  font-size: 14px;
}

.problem {
  font-size: 14px;
  color: var(--caution);
}
</style>
