<script setup lang="ts">
/** One row: its values; named, highlighted, set aside and brought back. */
import { computed } from 'vue'
import { blankNames } from '@/figure-model/blank'
import { CATEGORIES, toHex } from '@/render/colours'
import { rowOf, type RowLine } from '@/stores/rows'
import { nameOptions } from '@/figure-model/statement/options'
import { useFigure } from '@/stores/figure'
import { useAnswer, useKeys } from '@/stores/queries'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiValues from '@/ui/UiValues.vue'
import Controls from './Controls.vue'
import { movedControls, singledControls } from '@/figure-model/controls/rows'

const props = defineProps<{ row: number }>()

const figure = useFigure()
const side = useSide()
const studies = useStudy()
const document = computed(() => figure.document!)
const isAside = computed(() => document.value.set_aside.includes(props.row))
const single = computed(() =>
  document.value.singled_out.findIndex(({ rows }) => rows.includes(props.row)),
)
const areAllNamed = computed(() => document.value.names?.show === 'all')
const isNamed = computed(() => document.value.names?.rows.includes(props.row) ?? false)

const keyOf = useKeys()
const { data, problem } = useAnswer(
  () => keyOf('row', document.value.table, props.row),
  () => rowOf(document.value.table, props.row),
)
/** Never another row's values under this one's name. */
const lines = computed((): RowLine[] => data.value ?? [])

function toggle(): void {
  figure.edit((draft) => {
    draft.set_aside = isAside.value
      ? draft.set_aside.filter((row) => row !== props.row)
      : [...draft.set_aside, props.row]
  })
}

/** Labelled beside those that are found, by the variable that labels points already or the best one. */
function name(): void {
  const variables = studies.tableOf(document.value.table)?.summary.variables ?? []
  const first = nameOptions(variables)[0].value ?? document.value.x
  figure.edit((draft) => {
    const names = draft.names ?? blankNames(first, 'chosen')
    names.rows = isNamed.value
      ? names.rows.filter((row) => row !== props.row)
      : [...names.rows, props.row]
    draft.names = names.show === 'chosen' && !names.rows.length ? null : names
  })
}

const singleOut = () =>
  figure.edit((draft) => {
    // A colour that is in use would say that it is of another category.
    const colour = draft.colour ? null : toHex(CATEGORIES[1])
    draft.singled_out.push({ rows: [props.row], colour, shape: null, size: 1.6, name: null })
  })

/** Whether the figure shows a name on it, and how far that was moved. */
const bears = computed(() => figure.drawn?.answer.names?.rows.includes(props.row) ?? false)
const moved = computed(
  () => bears.value && String(props.row) in (document.value.names?.moved ?? {}),
)

function moveName(to: [number, number] | null): void {
  figure.edit(({ names }) => {
    if (!names) return
    if (to) names.moved[String(props.row)] = to
    else Reflect.deleteProperty(names.moved, String(props.row))
  }, `name ${props.row}`)
}

/** Out of its group, which goes when it is empty. */
function release(): void {
  figure.edit((draft) => {
    draft.singled_out = draft.singled_out
      .map((group) => ({ ...group, rows: group.rows.filter((row) => row !== props.row) }))
      .filter(({ rows }) => rows.length)
  })
}
</script>

<template>
  <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
  <UiValues :of="lines" />
  <UiRow>
    <UiAction @click="toggle">{{ isAside ? 'Bring back' : 'Set aside' }}</UiAction>
    <UiAction :pressed="isNamed" :off="areAllNamed ? 'All points are labelled.' : ''" @click="name">
      {{ isNamed ? 'Remove label' : bears ? 'Always label it' : 'Label it' }}
    </UiAction>
    <UiAction v-if="single < 0" @click="singleOut">Highlight</UiAction>
    <UiAction v-else @click="release">Remove highlight</UiAction>
    <UiAction tip="Shape, size and colour of all marks" @click="side.tune('marks')">
      All marks
    </UiAction>
  </UiRow>
  <Controls v-if="single >= 0" :of="singledControls(single)" />
  <template v-if="moved">
    <Controls :of="movedControls(props.row)" />
    <UiAction kind="words" @click="moveName(null)">Place its label automatically</UiAction>
  </template>
  <UiAction v-else-if="bears" kind="words" @click="moveName([8, -20])">Move its label</UiAction>
  <UiNote>
    A row set aside is drawn hollow and pale and is left out of every fit on this figure.
  </UiNote>
</template>
