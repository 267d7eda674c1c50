<script setup lang="ts">
/** Every part that can be clicked on the figure, for those who do not click. */
import { computed } from 'vue'
import { kindOf } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'

const figure = useFigure()
const side = useSide()
const parts = computed(() =>
  figure.drawn ? kindOf(figure.drawn.document).tunable(figure.drawn) : [],
)
</script>

<template>
  <div v-if="parts.length" class="beside">
    <span class="quiet">Tune:</span>
    <UiAction v-for="{ part, label } in parts" :key="part" kind="words" @click="side.tune(part)">
      {{ label }}
    </UiAction>
  </div>
</template>
