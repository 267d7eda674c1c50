<script setup lang="ts">
/** A category on this figure: its entry in the legend, and a look of its own. */
import { computed } from 'vue'
import { blankOwnLook } from '@/api/blank'
import type { OwnLook } from '@/api/types'
import { useFigure } from '@/stores/figure'
import UiAction from '@/ui/UiAction.vue'
import UiColour from '@/ui/UiColour.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import UiSlider from '@/ui/UiSlider.vue'
import UiText from '@/ui/UiText.vue'
import ShapeChoice from './ShapeChoice.vue'

const props = defineProps<{
  entry: string
  /** All entries in the order in which they stand. */
  entries: readonly string[]
}>()

const figure = useFigure()
const legend = computed(() => figure.document!.legend)
const marks = computed(() => figure.document!.marks)
const place = computed(() => props.entries.indexOf(props.entry))
const isHidden = computed(() => legend.value.hidden.includes(props.entry))
const isInFront = computed(() => marks.value.front.at(-1) === props.entry)
const own = computed(() => ({ ...blankOwnLook(), ...marks.value.each[props.entry] }))

const without = (list: readonly string[]): string[] => list.filter((e) => e !== props.entry)

function rename(text: string): void {
  figure.edit((draft) => {
    const { renamed } = draft.legend
    if (text.trim() === '' || text === props.entry) Reflect.deleteProperty(renamed, props.entry)
    else renamed[props.entry] = text
  })
}

const toggle = () =>
  figure.edit(({ legend: draft }) => {
    draft.hidden = isHidden.value ? without(draft.hidden) : [...draft.hidden, props.entry]
  })

function move(by: -1 | 1): void {
  const order = without(props.entries)
  order.splice(place.value + by, 0, props.entry)
  figure.edit((draft) => (draft.legend.order = order))
}

const look = (change: Partial<OwnLook>, what = '') =>
  figure.edit((draft) => {
    draft.marks.each[props.entry] = { ...own.value, ...change }
  }, what)

const toFront = () =>
  figure.edit(({ marks: draft }) => {
    draft.front = isInFront.value ? without(draft.front) : [...without(draft.front), props.entry]
  })

const asOthers = () =>
  figure.edit(({ marks: draft }) => {
    Reflect.deleteProperty(draft.each, props.entry)
    draft.front = without(draft.front)
  })
</script>

<template>
  <li>
    <UiRow>
      <UiText
        bare
        class="ui-fill"
        :label="`Entry ${entry}`"
        :model-value="legend.renamed[entry] ?? entry"
        :maxlength="500"
        @update:model-value="rename"
      />
      <UiAction :label="`Move ${entry} up in the legend`" :disabled="place === 0" @click="move(-1)">
        ↑
      </UiAction>
      <UiAction
        :label="`Move ${entry} down in the legend`"
        :disabled="place === entries.length - 1"
        @click="move(1)"
      >
        ↓
      </UiAction>
      <UiAction :pressed="!isHidden" :label="`Show ${entry} in the legend`" @click="toggle">
        {{ isHidden ? 'out' : 'shown' }}
      </UiAction>
    </UiRow>
    <UiSection :heading="`Marks of ${entry}`">
      <ShapeChoice
        :label="`Marker of ${entry}`"
        :value="own.shape"
        none="as the others"
        @set="look({ shape: $event })"
      />
      <UiSlider
        v-if="!figure.document!.size"
        :label="`Size of ${entry}`"
        :model-value="Math.round(own.size * 100)"
        :min="30"
        :max="400"
        :step="5"
        :text="`${Math.round(own.size * 100)} %`"
        @update:model-value="look({ size: $event / 100 }, `size of ${entry}`)"
      />
      <UiColour
        :label="`Colour of ${entry}`"
        :model-value="own.colour"
        none="the study’s"
        @update:model-value="look({ colour: $event }, `colour of ${entry}`)"
      />
      <UiRow>
        <UiAction :pressed="isInFront" @click="toFront">Draw in front</UiAction>
        <UiAction kind="words" @click="asOthers">Like the others</UiAction>
      </UiRow>
    </UiSection>
  </li>
</template>
