<script setup lang="ts">
/** A category on this figure: its entry in the legend, and a look of its own. */
import { computed } from 'vue'
import { blankOwnLook } from '@/api/blank'
import type { OwnLook } from '@/api/types'
import { useFigure } from '@/stores/figure'
import ColourField from './ColourField.vue'
import Folded from './Folded.vue'
import ShapeChoice from './ShapeChoice.vue'
import Slider from './Slider.vue'

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

function rename(event: Event): void {
  const text = (event.target as HTMLInputElement).value
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
  <li class="entry">
    <div class="entry__line">
      <input
        v-held="legend.renamed[entry] ?? entry"
        maxlength="500"
        :aria-label="`Entry ${entry}`"
        @change="rename"
      />
      <button
        type="button"
        class="choice"
        :aria-label="`Move ${entry} up in the legend`"
        :disabled="place === 0"
        @click="move(-1)"
      >
        ↑
      </button>
      <button
        type="button"
        class="choice"
        :aria-label="`Move ${entry} down in the legend`"
        :disabled="place === entries.length - 1"
        @click="move(1)"
      >
        ↓
      </button>
      <button
        type="button"
        class="choice"
        :aria-pressed="!isHidden"
        :aria-label="`Show ${entry} in the legend`"
        @click="toggle"
      >
        {{ isHidden ? 'out' : 'shown' }}
      </button>
    </div>
    <Folded :heading="`Marks of ${entry}`">
      <ShapeChoice
        :label="`Marker of ${entry}`"
        :value="own.shape"
        none="as the others"
        @set="look({ shape: $event })"
      />
      <Slider
        v-if="!figure.document!.size"
        :label="`Size of ${entry}`"
        :value="Math.round(own.size * 100)"
        :min="30"
        :max="400"
        :step="5"
        :text="`${Math.round(own.size * 100)} %`"
        @set="look({ size: $event / 100 }, `size of ${entry}`)"
      />
      <ColourField
        :label="`Colour of ${entry}`"
        :value="own.colour"
        none="the study’s"
        @set="look({ colour: $event }, `colour of ${entry}`)"
      />
      <div class="entry__line">
        <button type="button" class="choice" :aria-pressed="isInFront" @click="toFront">
          Draw in front
        </button>
        <button type="button" class="link" @click="asOthers">Like the others</button>
      </div>
    </Folded>
  </li>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
}

.entry :deep(.folded) {
  border-top: 0;
  padding: 0 0 2px;
}

.entry__line {
  display: flex;
  gap: 4px;
}

.entry__line input {
  flex: 1;
  min-width: 0;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
}
</style>
