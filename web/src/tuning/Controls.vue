<script setup lang="ts">
/** Controls as they are declared, each with what the document holds at its place. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import UiChoice from '@/ui/UiChoice.vue'
import UiColour from '@/ui/UiColour.vue'
import UiPlace from '@/ui/UiPlace.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiSlider from '@/ui/UiSlider.vue'
import UiText from '@/ui/UiText.vue'
import type { Shape } from '@/drawing/marks/shapes'
import ShapeChoice from './ShapeChoice.vue'
import {
  applies,
  change,
  undoKey,
  valueOf,
  type Control,
  type Plain,
  type Scope,
} from './controls/control'

const props = defineProps<{ of: readonly Control[] }>()

const figure = useFigure()
const studies = useStudy()
const scope = computed((): Scope => ({
  document: figure.document!,
  drawn: figure.drawn,
  variables: studies.tableOf(figure.document!.table)?.summary.variables ?? [],
}))
const shown = computed(() =>
  props.of
    .filter((control) => applies(control, scope.value))
    .map((control) => ({ control, value: valueOf(control, scope.value) })),
)

// What stands at a control's place is of the type that its kind says.
const plain = (value: unknown) => value as Plain
const named = (value: unknown) => value as string | null
const placed = (value: unknown) => value as number | null
const shaped = (value: unknown) => value as Shape | null
const amount = (value: unknown) => value as number

function set(control: Control, value: unknown): void {
  figure.edit(change(control, scope.value, value), undoKey(control))
}
</script>

<template>
  <template v-for="{ control, value } in shown" :key="control.at + control.label">
    <UiChoice
      v-if="control.kind === 'choice'"
      :label="control.label"
      :model-value="plain(value)"
      :options="control.options"
      @update:model-value="set(control, $event)"
    />
    <UiSelect
      v-else-if="control.kind === 'select'"
      :label="control.label"
      :model-value="named(value)"
      :options="control.options(scope)"
      @update:model-value="set(control, $event)"
    />
    <UiSlider
      v-else-if="control.kind === 'slider'"
      :label="control.label"
      :model-value="amount(value)"
      :min="control.min"
      :max="control.max"
      :step="control.step"
      :text="control.text(amount(value), scope)"
      @update:model-value="set(control, $event)"
    />
    <UiText
      v-else-if="control.kind === 'text'"
      :label="control.label"
      :model-value="String(value)"
      :maxlength="control.maxlength"
      :placeholder="control.placeholder"
      :lines="control.lines"
      @typed="control.live && set(control, $event)"
      @update:model-value="set(control, $event)"
    />
    <UiPlace
      v-else-if="control.kind === 'place'"
      :label="control.label"
      :model-value="placed(value)"
      :placeholder="control.placeholder?.(scope)"
      :is-date="control.isDate?.(scope)"
      :check="(typed) => control.check?.(typed, scope) ?? ''"
      @update:model-value="set(control, $event)"
    />
    <UiColour
      v-else-if="control.kind === 'colour'"
      :label="control.label"
      :model-value="named(value)"
      :none="control.none"
      @update:model-value="set(control, $event)"
    />
    <ShapeChoice
      v-else
      :label="control.label"
      :value="shaped(value)"
      :none="control.none"
      @set="set(control, $event ?? (control.none ? null : 'disc'))"
    />
  </template>
</template>
