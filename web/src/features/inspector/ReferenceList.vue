<script setup lang="ts">
/** Reference lines and shaded ranges on an axis. */
import { computed } from 'vue'
import { blankReference } from '@/figure-model/blank'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiField from '@/ui/UiField.vue'
import UiRow from '@/ui/UiRow.vue'
import Controls from './Controls.vue'
import { referenceControls } from '@/figure-model/controls/references'

const props = defineProps<{ axis: 'x' | 'y' }>()

const figure = useFigure()
const own = computed(() =>
  figure
    .document!.references.map(({ axis }, nth) => ({ axis, nth }))
    .filter(({ axis }) => axis === props.axis || axis === 'both')
    .map(({ nth }) => ({ nth, ...referenceControls(nth, props.axis) })),
)

const add = () =>
  figure.edit((draft) => draft.references.push({ ...blankReference(), axis: props.axis }))
</script>

<template>
  <UiField label="Reference lines" role="group" aria-label="Reference lines">
    <template v-for="{ nth, where, ends, label } in own" :key="nth">
      <UiRow>
        <Controls :of="[where]" />
        <UiAction
          kind="words"
          :label="`Remove reference line ${nth + 1}`"
          @click="figure.edit((draft) => draft.references.splice(nth, 1))"
        >
          ×
        </UiAction>
      </UiRow>
      <UiRow even><Controls :of="ends" /></UiRow>
      <Controls :of="[label]" />
    </template>
    <UiAction kind="words" @click="add">+ reference line</UiAction>
  </UiField>
</template>
