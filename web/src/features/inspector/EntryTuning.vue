<script setup lang="ts">
/** A category on this figure: its entry in the legend, and a look of its own. */
import { computed } from 'vue'
import { isNameOf, withoutNameOf, type CategoryEntry } from '@/render/entries'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import Controls from './Controls.vue'
import { entryControls } from '@/figure-model/controls/entries'

const props = defineProps<{
  entry: CategoryEntry
  /** All entries in the order in which they stand. */
  entries: readonly CategoryEntry[]
}>()

const figure = useFigure()
const place = computed(() => props.entries.indexOf(props.entry))
const own = computed(() => entryControls(props.entry))

const without = (list: readonly string[]): string[] =>
  list.filter((name) => !isNameOf(name, props.entry))

function move(by: -1 | 1): void {
  const order = without(props.entries.map(({ value }) => value))
  order.splice(place.value + by, 0, props.entry.value)
  figure.edit((draft) => (draft.legend.order = order))
}

const asOthers = () =>
  figure.edit(({ marks: draft }) => {
    draft.each = withoutNameOf(draft.each, props.entry)
    draft.front = without(draft.front)
  })
</script>

<template>
  <li>
    <UiRow>
      <Controls :of="[own.name]" />
      <UiAction
        :label="`Move ${entry.label} up in the legend`"
        :disabled="place === 0"
        @click="move(-1)"
      >
        ↑
      </UiAction>
      <UiAction
        :label="`Move ${entry.label} down in the legend`"
        :disabled="place === entries.length - 1"
        @click="move(1)"
      >
        ↓
      </UiAction>
      <Controls :of="[own.shown]" />
    </UiRow>
    <UiSection :heading="`Marks of ${entry.label}`">
      <Controls :of="own.look" />
      <UiRow>
        <Controls :of="[own.front]" />
        <UiAction kind="words" @click="asOthers">Reset look</UiAction>
      </UiRow>
    </UiSection>
  </li>
</template>
