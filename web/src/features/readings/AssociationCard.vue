<script setup lang="ts">
/** How two variables go together, where no trend is fitted. */
import { computed } from 'vue'
import type { AssociationAnswer } from '@/api/types'
import { levelText, pText, shareText } from '@/render/text/numbers'
import { useFigure } from '@/stores/figure'
import { grouped } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'

const props = defineProps<{ association: AssociationAnswer }>()

const CHOICES = [
  { what: 'r', label: 'r', spoken: 'Correlation r' },
  { what: 'interval', label: 'interval', spoken: 'Interval of r' },
  { what: 'p_value', label: 'p', spoken: 'p value' },
  { what: 'n', label: 'n', spoken: 'Number of rows' },
] as const

const figure = useFigure()
const placed = computed(() => figure.document!.readings.association)

/** Always in the same order, whichever was chosen first. */
function toggle(what: (typeof CHOICES)[number]['what']): void {
  const wanted = placed.value.includes(what)
    ? placed.value.filter((one) => one !== what)
    : [...placed.value, what]
  figure.edit((draft) => {
    draft.readings.association = CHOICES.map((one) => one.what).filter((one) =>
      wanted.includes(one),
    )
  })
}

const interval = computed(() => {
  const { low, high, level } = props.association
  return low === null || high === null
    ? ''
    : `${levelText(level)} interval ${shareText(low)} to ${shareText(high)}`
})
</script>

<template>
  <article class="card" aria-label="Readings of the two variables">
    <p class="main-number">r = {{ shareText(association.r) }}</p>
    <p>
      {{ interval
      }}<template v-if="association.p_value !== null">, p {{ pText(association.p_value) }}</template
      >, n = {{ grouped(association.n) }}
    </p>
    <div class="beside" role="group" aria-label="On the figure">
      <span class="quiet">Show on figure:</span>
      <UiAction
        v-for="{ what, label, spoken } in CHOICES"
        :key="what"
        :pressed="placed.includes(what)"
        :label="`${spoken} on the figure`"
        @click="toggle(what)"
      >
        {{ label }}
      </UiAction>
    </div>
  </article>
</template>
