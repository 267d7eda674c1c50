<script setup lang="ts">
/** How amounts become colours; categories are coloured for the whole study, in the sidebar. */
import { computed } from 'vue'
import type { FigureDocument } from '@/api/types'
import { RAMPS, stepsOf, toHex } from '@/render/colours'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import Controls from './Controls.vue'
import {
  DIRECTION_OF_COLOUR,
  ENDS_OF_COLOUR,
  MIDDLE_AND_STEPS,
  RAMP,
  SCALE_OF_COLOUR,
} from '@/figure-model/controls/colours'
import type { ChoiceControl } from '@/figure-model/controls/control'

type Ramp = NonNullable<FigureDocument['colour']>['ramp']

const figure = useFigure()
const side = useSide()
const colour = computed(() => figure.document!.colour!)
const isAmount = computed(() => figure.drawn?.answer.colour?.scale === 'amount')
const ramps = (RAMP as ChoiceControl).options as { value: Ramp; label: string }[]

const strip = (name: Ramp): string =>
  `linear-gradient(90deg, ${stepsOf(RAMPS[name], 9).map(toHex).join(', ')})`
</script>

<template>
  <Controls :of="[SCALE_OF_COLOUR]" />
  <template v-if="isAmount">
    <UiChoice
      :label="RAMP.label"
      :model-value="colour.ramp"
      :options="ramps"
      @update:model-value="figure.edit((draft) => (draft.colour!.ramp = $event))"
    >
      <template #default="{ option }">
        <span class="ui-strip" :style="{ background: strip(option.value) }"></span>
        {{ option.label }}
      </template>
    </UiChoice>
    <Controls :of="[DIRECTION_OF_COLOUR]" />
    <UiRow even><Controls :of="ENDS_OF_COLOUR" /></UiRow>
    <Controls :of="MIDDLE_AND_STEPS" />
  </template>
  <UiNote v-else-if="figure.document!.y.length === 1">
    Order, labels and colours of categories apply to the whole study.
    <UiAction kind="words" @click="side.show({ kind: 'variable', name: colour.variable })">
      Set them
    </UiAction>
  </UiNote>
</template>
