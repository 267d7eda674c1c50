<script setup lang="ts" generic="S extends AnyScope">
/** One control as it is declared, with what the document holds at its place. */
import { computed, ref, watch } from 'vue'
import type { Shape } from '@/render/marks/shapes'
import UiAction from '@/ui/UiAction.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiColour from '@/ui/UiColour.vue'
import UiPlace from '@/ui/UiPlace.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiSlider from '@/ui/UiSlider.vue'
import UiText from '@/ui/UiText.vue'
import ShapeChoice from '@/components/ShapeChoice.vue'
import {
  change,
  undoKey,
  valueOf,
  type AnyScope,
  type Control,
  type Plain,
} from '@/figure-model/controls/control'

const props = defineProps<{ control: Control<S>; scope: S }>()
const emit = defineEmits<{ edit: [change: (draft: S['document']) => void, what: string] }>()

const value = computed(() => valueOf(props.control, props.scope))

// What stands at a control's place is of the type that its kind says.
const plain = computed(() => value.value as Plain)
const named = computed(() => value.value as string | null)
const placed = computed(() => value.value as number | null)
const shaped = computed(() => value.value as Shape | null)
const amount = computed(() => value.value as number)

const set = (to: unknown): void =>
  emit('edit', change(props.control, props.scope, to), undoKey(props.control))

/** What is wrong with words that were typed, until something else stands there. */
const problem = ref('')
watch(value, () => (problem.value = ''))
function typed(said: string): void {
  problem.value = (props.control.kind === 'text' && props.control.check?.(said, props.scope)) || ''
  if (!problem.value) set(said)
}
</script>

<template>
  <UiChoice
    v-if="control.kind === 'choice'"
    :label="control.label"
    :model-value="plain"
    :options="control.options"
    @update:model-value="set"
  />
  <UiSelect
    v-else-if="control.kind === 'select'"
    :bare="control.bare"
    :class="{ 'ui-fill': control.bare }"
    :label="control.label"
    :model-value="named"
    :options="control.options(scope)"
    @update:model-value="set"
  />
  <UiSlider
    v-else-if="control.kind === 'slider'"
    :label="control.label"
    :model-value="amount"
    :min="control.min"
    :max="control.max"
    :step="control.step"
    :text="control.text(amount, scope)"
    @update:model-value="set"
  />
  <UiText
    v-else-if="control.kind === 'text'"
    :bare="control.bare"
    :class="control.bare && (control.numeric ? 'ui-short' : 'ui-fill')"
    :label="control.label"
    :model-value="String(value)"
    :maxlength="control.maxlength"
    :placeholder="control.placeholder"
    :lines="control.lines"
    :numeric="control.numeric"
    :error="problem"
    @typed="control.live && set($event)"
    @update:model-value="typed"
  />
  <UiPlace
    v-else-if="control.kind === 'place'"
    :label="control.label"
    :model-value="placed"
    :placeholder="control.placeholder?.(scope)"
    :is-date="control.isDate?.(scope)"
    :check="(given) => (control.kind === 'place' && control.check?.(given, scope)) || ''"
    @update:model-value="set"
  />
  <UiColour
    v-else-if="control.kind === 'colour'"
    :label="control.label"
    :model-value="named"
    :none="control.none"
    @update:model-value="set"
  />
  <UiAction
    v-else-if="control.kind === 'toggle'"
    :pressed="value === true"
    :label="
      control.words ? `${control.label}: ${control.words[value === true ? 0 : 1]}` : control.label
    "
    @click="set(value !== true)"
  >
    {{ control.words ? control.words[value === true ? 0 : 1] : control.label }}
  </UiAction>
  <ShapeChoice
    v-else
    :label="control.label"
    :value="shaped"
    :none="control.none"
    @set="set($event ?? (control.none ? null : 'disc'))"
  />
</template>
