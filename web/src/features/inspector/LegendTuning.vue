<script setup lang="ts">
/** The legend: where it stands, its title, and its entries. */
import { computed } from 'vue'
import { inLegendOrder } from '@/render/parts/legend'
import { entriesOf } from '@/render/entries'
import { useFigure } from '@/stores/figure'
import UiList from '@/ui/UiList.vue'
import ColourTuning from './ColourTuning.vue'
import Controls from './Controls.vue'
import { LEGEND } from '@/figure-model/controls/words'
import EntryTuning from './EntryTuning.vue'
import Lettering from './Lettering.vue'

const figure = useFigure()
const colour = computed(() => figure.drawn?.answer.colour ?? null)
const entries = computed(() =>
  colour.value?.scale === 'category'
    ? inLegendOrder(
        entriesOf(colour.value).filter(({ code }) => colour.value!.shown[code]),
        figure.document!.legend.order,
      )
    : [],
)
</script>

<template>
  <Controls :of="LEGEND" />
  <ColourTuning v-if="figure.document!.colour" />
  <UiList v-if="entries.length" label="Entries">
    <EntryTuning v-for="entry in entries" :key="entry.value" :entry="entry" :entries="entries" />
  </UiList>
  <Lettering part="legend" />
</template>
