<script setup lang="ts">
/** The sentence that says and sets what the figure shows. */
import { computed } from 'vue'
import {
  blankBar,
  blankMatrix,
  blankColour,
  blankNames,
  blankSize,
  blankTrend,
  setFamily as giveFamily,
} from '@/api/blank'
import { familyLabel } from '@/model/families'
import type { FigureDocument, Trend } from '@/api/types'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
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
  familyOptions,
  nameOptions,
  sizeOptions,
  typedBand,
  upOptions,
  type Bands,
} from './options'
import MatrixStatement from './MatrixStatement.vue'
import RowsPart from './RowsPart.vue'
import { articleOf } from './sentence'

const MOST_TRENDS = 3
const MOST_ALL_NAMED = 40
const MOST_UP = 12
/** What was set for one variable on an axis and says nothing of another. */
const UNSET = { title: null, low: null, high: null, step: null, positions: [], crosses: null }

const figure = useFigure()
const studies = useStudy()
const side = useSide()

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

const numbers = computed(() => variables.value.filter(({ kind }) => kind === 'number'))
const canBeMatrix = computed(() => numbers.value.length > 1)
const FIRST_OF_MATRIX = 5

/** The matrix that was there before, or one that starts with this pair. */
function makeMatrix(): void {
  figure.edit((draft) => {
    draft.kind = 'scatterplot matrix'
    const names = [...draft.y, draft.x, ...numbers.value.map(({ name }) => name)]
    draft.matrix ??= blankMatrix([...new Set(names)].slice(0, FIRST_OF_MATRIX))
  })
}

function setAxis(axis: 'x' | 'y', name: string, place = 0): void {
  figure.edit((draft) => {
    if (axis === 'x') draft.x = name
    else draft.y[place] = name
    draft.y = [...new Set(draft.y)]
    // Ends and a title that were set for another variable say nothing of this one.
    draft.axes[axis] = { ...draft.axes[axis], ...UNSET }
  })
}

/** One more variable going up; each then has its own colour and its own line. */
function addUp(name: string): void {
  figure.edit((draft) => {
    draft.y.push(name)
    draft.colour = null
    draft.axes.y = { ...draft.axes.y, ...UNSET }
    for (const trend of draft.trends) trend.by = null
  })
}

function setUp(place: number, name: string | null): void {
  if (name !== null) setAxis('y', name, place)
  else
    figure.edit((draft) => {
      draft.y.splice(place, 1)
      draft.axes.y = { ...draft.axes.y, ...UNSET }
    })
}

function setSize(name: string | null): void {
  figure.edit((draft) => {
    if (name === null) draft.size = null
    else draft.size = { ...(draft.size ?? blankSize(name)), variable: name }
  })
}

/** Few points are all named; of many, those that lie outermost. */
function setNames(name: string | null): void {
  const few = (figure.drawn?.answer.counts.drawn ?? 0) <= MOST_ALL_NAMED
  figure.edit((draft) => {
    if (name === null) draft.names = null
    else if (draft.names) draft.names.variable = name
    else draft.names = blankNames(name, few ? 'all' : 'outermost')
  })
}

/** Error bars from the variables that seem to be meant, to be set right in the tuning. */
function addBars(): void {
  const numbers = variables.value.filter(({ kind }) => kind === 'number')
  const likely = numbers.filter(({ name }) => /\b(se|sd|error|err|deviation)\b/i.test(name))
  figure.edit((draft) => {
    const bar = blankBar()
    if (likely.length > 1)
      Object.assign(bar, { kind: 'two', below: likely[0].name, above: likely[1].name })
    else if (likely.length) Object.assign(bar, { kind: 'variable', below: likely[0].name })
    draft.error_bars.y = bar
  })
  side.tune('marks')
}

function setColour(name: string | null): void {
  figure.edit((draft) => {
    const before = draft.colour?.variable
    draft.colour = name === null ? null : blankColour(name)
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
    else giveFamily(draft.trends[place], family)
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
  draft.colour = blankColour(name, variable(name)?.kind === 'number' ? 'category' : null)
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
    const taken = draft.trends.some((trend) => trend.by === groups && trend.family === family)
    draft.trends.push(blankTrend(family, taken ? null : groups))
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
  <MatrixStatement v-if="document.kind === 'scatterplot matrix'" />
  <h1 v-else class="statement" data-testid="statement">
    <template v-for="(up, i) in document.y" :key="i"
      >{{ i === 0 ? '' : i === document.y.length - 1 ? ' and ' : ', '
      }}<Chooser
        :label="i === 0 ? 'What goes up' : `What goes up, ${i + 1}`"
        :text="i === 0 ? label(up) : within(up)"
        :options="[
          ...axisOptions(variables),
          ...(document.y.length > 1 ? [{ label: 'take it off', value: null }] : []),
        ]"
        :chosen="up"
        @choose="setUp(i, $event)"
      />
    </template>
    against
    <Chooser
      label="What goes across"
      :text="within(document.x)"
      :options="axisOptions(variables)"
      :chosen="document.x"
      @choose="setAxis('x', $event)"
    /><template v-if="document.size"
      >, sized by
      <Chooser
        label="Size"
        :text="document.size.variable ? within(document.size.variable) : 'influence'"
        :options="sizeOptions(variables)"
        :chosen="document.size.variable"
        @choose="setSize" /></template
    ><template v-if="colour"
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
    <template v-if="document.names"
      >, named by
      <Chooser
        label="Names"
        :text="within(document.names.variable)"
        :options="nameOptions(variables)"
        :chosen="document.names.variable"
        @choose="setNames"
      />
    </template>
    <template v-if="document.error_bars.x || document.error_bars.y"
      >, with
      <button type="button" class="word" @click="side.tune('marks')">error bars</button>
    </template>
    <template v-for="(trend, i) in document.trends" :key="i">
      · {{ i ? 'and' : 'trend:' }}
      <Chooser
        label="Trend"
        :text="familyLabel(trend.family)"
        :options="familyOptions"
        :chosen="trend.family"
        @choose="setFamily(i, $event)"
      />
      for
      <Chooser
        label="Fitted for"
        :text="
          document.y.length > 1
            ? 'each variable'
            : trend.by === null
              ? 'the whole'
              : `each ${within(trend.by)}`
        "
        :options="document.y.length > 1 ? [{ label: 'each variable', value: null }] : canTellGroups"
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
        v-if="document.y.length < MOST_UP && upOptions(variables, document.y).length"
        faint
        label="Add another variable"
        text="+ variable up"
        :options="upOptions(variables, document.y)"
        @choose="addUp"
      />
      <Chooser
        v-if="!document.size"
        faint
        label="Add a size"
        text="+ size"
        :options="sizeOptions(variables).slice(0, -1)"
        @choose="setSize"
      />
      <Chooser
        v-if="!colour && document.y.length === 1"
        faint
        label="Add a colour"
        text="+ colour"
        :options="colourOptions(variables).slice(0, -1)"
        @choose="setColour"
      />
      <Chooser
        v-if="!document.names"
        faint
        label="Add names"
        text="+ names"
        :options="nameOptions(variables).slice(0, -1)"
        @choose="setNames"
      />
      <button
        v-if="!document.error_bars.x && !document.error_bars.y"
        type="button"
        class="word word--faint"
        aria-label="Add error bars"
        @click="addBars"
      >
        + error bars
      </button>
      <Chooser
        v-if="document.trends.length < MOST_TRENDS"
        faint
        label="Add a trend"
        text="+ trend"
        :options="familyOptions.slice(0, -1)"
        @choose="addTrend"
      />
      <button
        v-if="canBeMatrix"
        type="button"
        class="word word--faint"
        aria-label="Every pair against each other"
        @click="makeMatrix"
      >
        {{ document.matrix ? '← matrix' : '+ matrix' }}
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
