<script setup lang="ts">
/** The sentence of a plate: how many figures, how they stand, and what they share. */
import { computed } from 'vue'
import { letterOf } from '@/drawing/plate'
import Chooser from '@/statement/Chooser.vue'
import type { Option } from '@/statement/options'
import { usePlate } from '@/stores/plate'
import { useStudy } from '@/stores/study'
import { countOf, figureName } from '@/words'

const MOST = 12

const plate = usePlate()
const studies = useStudy()
const document = computed(() => plate.document!)
const count = computed(() => document.value.cells.length)

const columns = computed((): Option<number>[] =>
  Array.from({ length: count.value }, (_, i) => ({
    label: countOf(i + 1, 'column'),
    value: i + 1,
  })),
)
const SHARED: Option<'none' | 'x' | 'y' | 'both'>[] = [
  { label: 'each its own', value: 'none' },
  { label: 'across shared', value: 'x' },
  { label: 'up shared', value: 'y' },
  { label: 'both shared', value: 'both' },
]
const LEGENDS: Option<'shared' | 'each' | 'none'>[] = [
  { label: 'one for all', value: 'shared' },
  { label: 'one in each figure', value: 'each' },
  { label: 'none', value: 'none' },
]
const LOOKS: Option<'own' | 'common'>[] = [
  { label: 'each its own', value: 'own' },
  { label: 'that of the first', value: 'common' },
]
const LETTERS = computed((): Option<'a' | 'A' | 'none'>[] => [
  { label: `a to ${letterOf(count.value - 1, 'a')}`, value: 'a' },
  { label: `A to ${letterOf(count.value - 1, 'A')}`, value: 'A' },
  { label: 'without letters', value: 'none' },
])
const figures = computed((): Option<string>[] =>
  studies.figures.map(({ id, document: shown }) => ({
    label: figureName(shown, studies.variableOf),
    value: id,
  })),
)

const label = <Value,>(options: Option<Value>[], value: Value): string =>
  options.find((option) => option.value === value)?.label ?? ''

function setColumns(value: number): void {
  plate.edit((draft) => {
    draft.columns = value
    draft.widths = []
    draft.heights = []
  })
}

function add(figure: string): void {
  plate.edit((draft) => {
    draft.cells.push({ figure, varied: null, heading: null })
    draft.heights = []
  })
}
</script>

<template>
  <h1 class="statement" data-testid="statement">
    {{ countOf(count, 'figure') }} in
    <Chooser
      label="Columns of the plate"
      :text="countOf(Math.min(document.columns, count), 'column')"
      :options="columns"
      :chosen="Math.min(document.columns, count)"
      @choose="setColumns"
    />, lettered
    <Chooser
      label="Letters"
      :text="label(LETTERS, document.letters)"
      :options="LETTERS"
      :chosen="document.letters"
      @choose="plate.edit((draft) => (draft.letters = $event))"
    />
    · axes:
    <Chooser
      label="Shared axes"
      :text="label(SHARED, document.shared)"
      :options="SHARED"
      :chosen="document.shared"
      @choose="plate.edit((draft) => (draft.shared = $event))"
    />
    · legend:
    <Chooser
      label="Legend of the plate"
      :text="label(LEGENDS, document.legend)"
      :options="LEGENDS"
      :chosen="document.legend"
      @choose="plate.edit((draft) => (draft.legend = $event))"
    />
    · look:
    <Chooser
      label="Look of the figures"
      :text="label(LOOKS, document.look)"
      :options="LOOKS"
      :chosen="document.look"
      @choose="plate.edit((draft) => (draft.look = $event))"
    />
    <span class="offers">
      <Chooser
        v-if="count < MOST"
        faint
        label="Add a figure to the plate"
        text="+ figure"
        :options="figures"
        @choose="add"
      />
    </span>
  </h1>
</template>

<style scoped>
.statement {
  font-size: 16.5px;
  font-weight: 400;
  line-height: 1.62;
  margin: 0;
}

.offers {
  margin-left: 8px;
}
</style>
