<script setup lang="ts">
/** Which readings stand on the figure: of one trend, or of all at once. */
import { computed } from 'vue'
import type { OnFigure } from '@/api/types'
import { kindOf } from '@/kinds'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'

const props = defineProps<{
  /** Place of the trend; all of them where it is left out. */
  trend?: number
}>()

const CHOICES: { what: OnFigure; label: string; spoken: string }[] = [
  { what: 'equation', label: 'equation', spoken: 'Equation' },
  { what: 'r_squared', label: 'R²', spoken: 'R², R squared' },
  { what: 'adjusted_r_squared', label: 'adj. R²', spoken: 'adj. R², adjusted R squared' },
  { what: 'r', label: 'r', spoken: 'Correlation r' },
  { what: 'p_value', label: 'p', spoken: 'p value' },
  { what: 'n', label: 'n', spoken: 'Number of rows' },
  { what: 'residual_sd', label: 'SD', spoken: 'SD, residual standard deviation' },
]

const figure = useFigure()

const isMeant = (place: number): boolean => props.trend === undefined || place === props.trend

const fitted = computed(() => kindOf(figure.document!).fitted)
const shown = computed(() => CHOICES.filter(({ what }) => !fitted.value?.never.includes(what)))
const placed = computed(
  () =>
    new Set(
      fitted.value
        ?.of(figure.document!)
        .filter((_, i) => isMeant(i))
        .flatMap(({ on_figure }) => on_figure),
    ),
)

function toggle(what: OnFigure): void {
  const place = !placed.value.has(what)
  figure.edit((draft) => {
    fitted.value?.of(draft).forEach((trend, i) => {
      if (!isMeant(i)) return
      const wanted = new Set(trend.on_figure)
      if (place) wanted.add(what)
      else wanted.delete(what)
      // Always in the same order, whichever was chosen first.
      trend.on_figure = CHOICES.map((one) => one.what).filter((one) => wanted.has(one))
    })
  })
}
</script>

<template>
  <div class="beside" role="group" aria-label="On the figure">
    <span class="quiet">Show on figure:</span>
    <UiAction
      v-for="{ what, label, spoken } in shown"
      :key="what"
      :pressed="placed.has(what)"
      :label="`${spoken} on the figure`"
      @click="toggle(what)"
    >
      {{ label }}
    </UiAction>
  </div>
</template>
