<script setup lang="ts">
/** The sentence of a scatterplot matrix: its variables, its colour, and what its regions show. */
import { computed } from 'vue'
import { blankColour } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { inSentence } from '@/words'
import Chooser from './Chooser.vue'
import { ABOVE_BELOW, colourOptions, DIAGONALS, matrixOptions, regionLabel } from './options'
import RowsPart from './RowsPart.vue'

type Matrix = NonNullable<FigureDocument['matrix']>

const MOST = 16

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const document = computed(() => figure.document!)
const matrix = computed(() => document.value.matrix!)
const variables = computed(() => studies.tableOf(document.value.table)?.summary.variables ?? [])
const variable = (name: string) => studies.variableOf(document.value.table, name)
const within = (name: string) => inSentence(variable(name) ?? { label: name })
const label = (name: string) => variable(name)?.label ?? name
const others = computed(() =>
  matrixOptions(variables.value).filter(({ value }) => !matrix.value.variables.includes(value)),
)

const set = (change: Partial<Matrix>) =>
  figure.edit((draft) => {
    Object.assign(draft.matrix!, change)
  })

function setVariable(place: number, name: string | null): void {
  figure.edit((draft) => {
    const list = draft.matrix!.variables
    if (name === null) list.splice(place, 1)
    else list[place] = name
    draft.matrix!.variables = [...new Set(list)]
  })
}

const add = (name: string): void =>
  figure.edit((draft) => {
    draft.matrix!.variables.push(name)
  })

const setColour = (name: string | null): void =>
  figure.edit((draft) => {
    draft.colour =
      name === null
        ? null
        : blankColour(name, variable(name)?.kind === 'number' ? 'category' : null)
  })
</script>

<template>
  <h1 class="statement" data-testid="statement">
    <template v-for="(name, i) in matrix.variables" :key="i"
      >{{ i === 0 ? '' : i === matrix.variables.length - 1 ? ' and ' : ', '
      }}<Chooser
        :label="`Variable ${i + 1} of the matrix`"
        :text="i === 0 ? label(name) : within(name)"
        :options="[
          { label: label(name), value: name },
          ...others,
          ...(matrix.variables.length > 2 ? [{ label: 'take it off', value: null }] : []),
        ]"
        :chosen="name"
        @choose="setVariable(i, $event)"
      />
    </template>
    against each other<template v-if="document.colour"
      >, coloured by
      <Chooser
        label="Colour"
        :text="within(document.colour.variable)"
        :options="colourOptions(variables)"
        :chosen="document.colour.variable"
        @choose="setColour"
      />
    </template>
    · below:
    <Chooser
      label="Below the diagonal"
      :text="regionLabel(matrix, 'below')"
      :options="ABOVE_BELOW"
      :chosen="matrix.below"
      @choose="set({ below: $event })"
    />
    · above:
    <Chooser
      label="Above the diagonal"
      :text="regionLabel(matrix, 'above')"
      :options="ABOVE_BELOW"
      :chosen="matrix.above"
      @choose="set({ above: $event })"
    />
    · diagonal:
    <Chooser
      label="On the diagonal"
      :text="DIAGONALS.find(({ value }) => value === matrix.diagonal)?.label ?? ''"
      :options="DIAGONALS"
      :chosen="matrix.diagonal"
      @choose="set({ diagonal: $event })"
    />
    <template v-if="document.rows"> · rows: </template>
    <RowsPart :variables="variables" />
    <span class="offers">
      <Chooser
        v-if="matrix.variables.length < MOST && others.length"
        faint
        label="Add a variable"
        text="+ variable"
        :options="others"
        @choose="add"
      />
      <Chooser
        v-if="!document.colour"
        faint
        label="Add a colour"
        text="+ colour"
        :options="colourOptions(variables).slice(0, -1)"
        @choose="setColour"
      />
      <button type="button" class="word word--faint" @click="side.show({ kind: 'pairs' })">
        pairs, strongest first
      </button>
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
  display: inline-flex;
  flex-wrap: wrap;
  column-gap: 12px;
  margin-left: 8px;
}
</style>
