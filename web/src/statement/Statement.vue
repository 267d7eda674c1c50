<script setup lang="ts">
/** The sentence that says and sets what the figure shows. */
import { computed } from 'vue'
import type { FigureDocument, Trend } from '@/api/types'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import { inSentence } from '@/words'
import Chooser from './Chooser.vue'
import {
  axisOptions,
  bandLabel,
  bandOptions,
  byOptions,
  canBeEither,
  colourOptions,
  FAMILIES,
  familyLabel,
  typedBand,
  type Bands,
} from './options'
import RowsPart from './RowsPart.vue'
import { articleOf } from './sentence'

const MOST_TRENDS = 3

const figure = useFigure()
const studies = useStudy()

const document = computed(() => figure.document!)
const variables = computed(() => studies.tableOf(document.value.table)?.summary.variables ?? [])
const variable = (name: string) => studies.variableOf(document.value.table, name)
const label = (name: string) => variable(name)?.label ?? name
const within = (name: string) => inSentence(variable(name) ?? { label: name })

const colour = computed(() => document.value.colour)
const colourScale = computed(() => {
  const kind = variable(colour.value?.variable ?? '')?.kind
  return colour.value?.scale ?? (kind === 'number' || kind === 'date' ? 'amount' : 'category')
})
const canTellGroups = computed(() => byOptions(variables.value, colour.value))

function setAxis(axis: 'x' | 'y', name: string): void {
  figure.edit((draft) => {
    if (axis === 'x') draft.x = name
    else draft.y = [name]
    // Ends and a title that were set for another variable say nothing of this one.
    draft.axes[axis] = { title: null, low: null, high: null }
  })
}

function setColour(name: string | null): void {
  figure.edit((draft) => {
    const before = draft.colour?.variable
    draft.colour = name === null ? null : { variable: name, scale: null }
    draft.legend.title = null
    const groups = name !== null && canTellGroups.value.some(({ value }) => value === name)
    for (const trend of draft.trends) {
      if (before && trend.by === before) trend.by = groups ? name : null
    }
    draft.trends = distinct(draft.trends)
  })
}

function setScale(scale: 'category' | 'amount'): void {
  figure.edit((draft) => {
    draft.colour!.scale = scale
  })
}

function setFamily(place: number, family: string | null): void {
  figure.edit((draft) => {
    if (family === null) draft.trends.splice(place, 1)
    else draft.trends[place].family = family
  })
}

function setBy(place: number, by: string | null): void {
  figure.edit((draft) => {
    draft.trends[place].by = by
    // Lines of groups are told apart by colour, so that the marks are coloured with them.
    if (by !== null && draft.colour?.variable !== by) colourBy(draft, by)
  })
}

function colourBy(draft: FigureDocument, name: string): void {
  draft.colour = { variable: name, scale: variable(name)?.kind === 'number' ? 'category' : null }
  draft.legend.title = null
}

function setBands(place: number, bands: Bands): void {
  figure.edit((draft) => {
    const trend = draft.trends[place]
    trend.bands = bands
    if (bands.length) trend.level = bands[0].level
  })
}

function addTrend(family: string | null): void {
  if (family === null) return
  figure.edit((draft) => {
    const groups = colourScale.value === 'category' ? (draft.colour?.variable ?? null) : null
    const taken = draft.trends.some(({ by }) => by === groups)
    draft.trends.push({
      family,
      by: taken ? null : groups,
      level: 0.95,
      bands: [{ kind: 'confidence', level: 0.95 }],
      on_figure: [],
    })
  })
}

function distinct(trends: Trend[]): Trend[] {
  const seen = new Set<string>()
  return trends.filter(({ family, by }) => {
    const key = `${family} ${by}`
    return !seen.has(key) && seen.add(key)
  })
}
</script>

<template>
  <h1 class="statement" data-testid="statement">
    <Chooser
      label="What goes up"
      :text="label(document.y[0])"
      :options="axisOptions(variables)"
      :chosen="document.y[0]"
      @choose="setAxis('y', $event)"
    />
    against
    <Chooser
      label="What goes across"
      :text="within(document.x)"
      :options="axisOptions(variables)"
      :chosen="document.x"
      @choose="setAxis('x', $event)"
    /><template v-if="colour"
      >, coloured by
      <Chooser
        label="Colour"
        :text="within(colour.variable)"
        :options="colourOptions(variables)"
        :chosen="colour.variable"
        @choose="setColour"
      />
      <template v-if="canBeEither(variable(colour.variable))">
        as
        <Chooser
          label="Colour read as"
          :text="colourScale === 'amount' ? 'an amount' : 'a category'"
          :options="[
            { label: 'an amount', value: 'amount' as const },
            { label: 'a category', value: 'category' as const },
          ]"
          :chosen="colourScale"
          @choose="setScale"
        />
      </template>
    </template>
    <template v-for="(trend, i) in document.trends" :key="i">
      · {{ i ? 'and' : 'trend:' }}
      <Chooser
        label="Trend"
        :text="familyLabel(trend.family)"
        :options="FAMILIES"
        :chosen="trend.family"
        @choose="setFamily(i, $event)"
      />
      for
      <Chooser
        label="Fitted for"
        :text="trend.by === null ? 'the whole' : `each ${within(trend.by)}`"
        :options="canTellGroups"
        :chosen="trend.by"
        @choose="setBy(i, $event)"
      />
      with {{ articleOf(bandLabel(trend.bands)) }}
      <Chooser
        label="Band"
        :text="bandLabel(trend.bands)"
        :options="bandOptions"
        :chosen="trend.bands"
        :typed="typedBand"
        hint="Type a level, such as 97.5"
        @choose="setBands(i, $event)"
      />
    </template>
    <template v-if="document.rows"> · rows: </template>
    <!-- One and the same before and after the first condition, so that its list stays open. -->
    <RowsPart :variables="variables" />
    <span class="offers">
      <Chooser
        v-if="!colour"
        faint
        label="Add a colour"
        text="+ colour"
        :options="colourOptions(variables).slice(0, -1)"
        @choose="setColour"
      />
      <Chooser
        v-if="document.trends.length < MOST_TRENDS"
        faint
        label="Add a trend"
        text="+ trend"
        :options="FAMILIES.slice(0, -1)"
        @choose="addTrend"
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
  display: inline-flex;
  gap: 12px;
  margin-left: 8px;
}
</style>
