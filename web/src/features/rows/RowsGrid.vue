<script setup lang="ts">
/** The rows of a table, any number of them: looked through, sorted, found, and changed. */
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { TableId } from '@/api/references'
import type { VariableSummary } from '@/api/types'
import { GAP } from '@/render/geometry/ticks'
import { countOf, grouped } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import { useSelection } from '@/stores/selection'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiNote from '@/ui/UiNote.vue'
import UiText from '@/ui/UiText.vue'
import { useEditing } from './editing'
import { useHeading } from './heading'
import { gridKeys } from './keys'
import type { Order } from '@/stores/rows'
import { useSelecting } from './selecting'
import { useStretches } from './row-blocks'
import { useVirtualRows } from './virtual'

const FIND_AFTER_MS = 200

const props = defineProps<{ table: TableId; rows: number[] | null; title: string }>()
const emit = defineEmits<{ close: [] }>()

const studies = useStudy()
const figure = useFigure()
const side = useSide()
const selection = useSelection()
const body = useTemplateRef<HTMLElement>('body')
const order = ref<Order>({ sort: null, descending: false, find: '' })
const tall = ref(false)

const about = computed(() => studies.tableOf(props.table))
/** Whether its rows are marks of the figure that is open. */
const isOfFigure = computed(() => figure.document?.table === props.table)
const selectedRows = computed(() => selection.rowsIn(props.table))
const variables = computed((): VariableSummary[] => about.value?.summary.variables ?? [])
const looked = () => ({ table: props.table, rows: props.rows, order: order.value })
const stretches = useStretches(() => ({
  ...looked(),
  version: about.value?.version ?? 0,
}))
const { total, at, placeOf, need } = stretches
const sight = useVirtualRows(body, total)
const { shownRows, virtual, first, offset, places } = sight
watch([first, shownRows], ([from, count]) => void need(from, from + count + 2), {
  immediate: true,
})

const cellOf = (row: number, column: number): string => `${row} ${column}`
const focus = {
  cell: () => {
    const { row, column } = selecting.active.value
    body.value?.querySelector<HTMLElement>(`[data-cell="${cellOf(row, column)}"]`)?.focus()
  },
  field: (select: boolean) => {
    const field = body.value?.querySelector<HTMLInputElement>('.cell__field')
    field?.focus()
    if (select) field?.select()
  },
}
const selecting = useSelecting(
  looked,
  total,
  () => variables.value.length,
  at,
  sight.reveal,
  focus.cell,
)
const { active, marked, isMarked, goTo } = selecting
const editing = useEditing(looked, () => variables.value, total, at, placeOf, selecting, focus)
const { problem, busy, text } = editing
const { key, fieldKey } = gridKeys(selecting, editing, () => ({
  rows: total.value,
  columns: variables.value.length,
  page: shownRows.value - 1,
}))

/** The field was left, unless it has only gone along with its row. */
function left(): void {
  void nextTick(() => {
    if (!document.activeElement?.classList.contains('cell__field')) editing.commit(0, 0)
  })
}

function toTop(): void {
  sight.scrollTo(0)
  selecting.toTop()
}

let timer: ReturnType<typeof setTimeout> | undefined
function find(text: string): void {
  clearTimeout(timer)
  timer = setTimeout(() => {
    order.value = { ...order.value, find: text }
    toTop()
  }, FIND_AFTER_MS)
}

/** By a variable upwards, then downwards, then as the rows stand. */
function sort(name: string): void {
  const { sort: by, descending, find: text } = order.value
  order.value =
    by !== name
      ? { sort: name, descending: false, find: text }
      : descending
        ? { sort: null, descending: false, find: text }
        : { sort: name, descending: true, find: text }
  toTop()
}

const sorted = (name: string): 'ascending' | 'descending' | 'none' =>
  order.value.sort !== name ? 'none' : order.value.descending ? 'descending' : 'ascending'

/** A table that is typed begins in its first cell, as soon as there are cells. */
watch(
  () => side.listed?.isBegun && at(0) !== null,
  (isThere) => {
    if (!isThere || !side.listed) return
    side.listed.isBegun = false
    void goTo(0, 0)
  },
  { immediate: true, flush: 'post' },
)

const { heading, typeHeading, headed } = useHeading(
  () => props.table,
  () => body.value?.querySelector<HTMLInputElement>('.line--head input')?.select(),
  (sentence) => (problem.value = sentence),
)

/** The rows that are marked, on the figure of this table. */
const selectMarked = async (): Promise<void> => {
  const { table } = props
  selection.select(table, await selecting.numbers())
}

async function addVariable(): Promise<void> {
  const taken = new Set(variables.value.map(({ name }) => name))
  let count = variables.value.length + 1
  while (taken.has(`column ${count}`)) count += 1
  await studies.addVariable(props.table, `column ${count}`)
  side.show({ kind: 'variable', name: `column ${count}` })
}
</script>

<template>
  <section
    class="card drawer"
    :class="{ 'drawer--tall': tall }"
    :aria-label="`Rows: ${title}`"
    :aria-busy="busy"
  >
    <header class="drawer__head">
      <h2 class="cards__title">{{ title }}</h2>
      <span class="ui-fill quiet small" role="status">
        {{ countOf(total, 'row')
        }}<template v-if="order.find"> of {{ grouped(about?.summary.rows ?? 0) }}</template>
      </span>
      <template v-if="rows === null">
        <UiText
          bare
          search
          class="drawer__find"
          label="Find in the rows"
          placeholder="Find"
          model-value=""
          @typed="find"
        />
        <UiAction kind="words" @click="editing.addRow">+ row</UiAction>
        <UiAction kind="words" @click="addVariable">+ variable</UiAction>
      </template>
      <UiAction v-if="isOfFigure" kind="words" :disabled="!marked.count" @click="selectMarked">
        Select
      </UiAction>
      <UiAction kind="words" :disabled="!marked.count" @click="editing.deleteRows">
        Delete {{ marked.count > 1 ? countOf(marked.count, 'row') : 'row' }}
      </UiAction>
      <UiAction kind="words" :pressed="tall" @click="tall = !tall">
        {{ tall ? 'Lower' : 'Taller' }}
      </UiAction>
      <UiAction kind="words" @click="emit('close')">Close</UiAction>
    </header>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiNote v-else-if="stretches.problem.value" kind="wrong">
      {{ stretches.problem.value }}
      <UiAction kind="words" @click="stretches.retry">Try again</UiAction>
    </UiNote>
    <div
      ref="body"
      class="drawer__rows"
      role="grid"
      aria-label="Rows"
      :aria-rowcount="total + 1"
      :aria-colcount="variables.length + 1"
      @scroll="sight.scrolled"
      @keydown="key"
      @paste="editing.paste"
    >
      <div class="line line--head" role="row" aria-rowindex="1">
        <span class="cell clipped cell--number cell--place" role="columnheader">Row</span>
        <span
          v-for="v in variables"
          :key="v.name"
          class="cell clipped"
          :class="`cell--${v.kind}`"
          role="columnheader"
          :aria-sort="sorted(v.name)"
        >
          <UiText
            v-if="heading === v.name"
            bare
            class="cell__heading"
            :label="`Label of ${v.label}`"
            :model-value="v.label"
            :maxlength="300"
            @update:model-value="headed(v, $event)"
            @keydown.esc.stop="heading = null"
            @focusout="heading = null"
          />
          <button
            v-else
            type="button"
            class="row-button clipped cell__sort"
            :title="`Sort by ${v.label}; a double click or F2 types its label`"
            :disabled="rows !== null"
            @click="sort(v.name)"
            @dblclick="typeHeading(v.name)"
            @keydown.f2="typeHeading(v.name)"
          >
            {{ v.label }}<span v-if="v.unit" class="quiet">{{ GAP + v.unit }}</span
            ><span v-if="sorted(v.name) !== 'none'" aria-hidden="true">{{
              sorted(v.name) === 'ascending' ? ' ▴' : ' ▾'
            }}</span>
          </button>
        </span>
      </div>
      <div class="space" :style="{ height: `${virtual}px` }">
        <div class="window" :style="{ transform: `translateY(${offset}px)` }">
          <div
            v-for="place in places"
            :key="place"
            class="line"
            :class="{
              'line--chosen': isMarked(place),
              'line--selected': selectedRows.has(at(place)?.row ?? -1),
            }"
            role="row"
            :aria-rowindex="place + 2"
            :aria-selected="isMarked(place)"
          >
            <span class="cell clipped cell--number cell--place" role="rowheader">
              <UiAction
                v-if="at(place)"
                kind="words"
                tabindex="-1"
                :disabled="!isOfFigure"
                @click="side.tune(`row-${at(place)!.row}`)"
              >
                {{ at(place)!.row + 1 }}
              </UiAction>
            </span>
            <span
              v-for="(v, column) in variables"
              :key="v.name"
              class="cell clipped"
              :class="[
                `cell--${v.kind}`,
                {
                  'cell--missing': at(place)?.values[v.name] === null,
                  'cell--refused': editing.isRefused(place, v.name),
                },
              ]"
              :aria-invalid="editing.isRefused(place, v.name) || undefined"
              role="gridcell"
              :data-cell="cellOf(place, column)"
              :tabindex="place === active.row && column === active.column ? 0 : -1"
              :aria-readonly="v.recipe !== null"
              @click="goTo(place, column, $event.shiftKey)"
              @dblclick="editing.begin(null)"
            >
              <input
                v-if="editing.isDrafted(place, v.name)"
                v-model="text"
                class="cell__field"
                :aria-label="`${v.label}, row ${(at(place)?.row ?? place) + 1}`"
                @keydown="fieldKey"
                @blur="left"
              /><template v-else>{{ editing.textAt(place, v.name) }}</template>
            </span>
          </div>
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.drawer {
  padding: 8px 12px;
  height: 236px;
  flex: none;
  display: flex;
  flex-direction: column;
}

.drawer--tall {
  height: 68%;
}

.drawer__head {
  display: flex;
  gap: 14px;
  align-items: baseline;
  white-space: nowrap;
}

.drawer__find {
  width: 128px;
}

.drawer__rows {
  overflow: auto;
  margin-top: 4px;
  flex: 1;
  min-height: 0;
  position: relative;
  /* What is gone to stands below the headers, not under them. */
  scroll-padding-top: 26px;
  font-size: var(--text-small);
  scrollbar-width: thin;
}

.space {
  position: relative;
  min-width: max-content;
}

.line {
  display: flex;
  background: var(--raised);
  height: 26px;
  width: max-content;
  min-width: 100%;
  border-bottom: 1px solid var(--line);
}

.line--head {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--raised);
  font-weight: 600;
}

.line--chosen {
  background: var(--chosen);
}

.line--selected .cell--place {
  box-shadow: inset 3px 0 0 var(--focus);
}

.cell {
  box-sizing: border-box;
  flex: none;
  width: 108px;
  padding: 0 8px;
  line-height: 25px;
  border-inline-end: 1px solid var(--ground);
}

.cell--number {
  text-align: right;
}

.cell--place {
  width: 62px;
  position: sticky;
  left: 0;
  background: inherit;
}

.cell--missing {
  color: var(--caution);
}

.cell--refused {
  color: var(--caution);
  text-decoration: underline wavy;
}

/* Where typing begins is seen, however one came there. */
.cell:focus {
  outline: 2px solid var(--focus);
  outline-offset: -2px;
}

.cell__sort {
  font-weight: 600;
  padding: 0;
  text-align: inherit;
}

.cell__field {
  width: calc(100% + 8px);
  margin: 0 -4px;
  padding: 0 3px;
  height: 24px;
  text-align: inherit;
  background: var(--raised);
  border: 1px solid var(--accent);
  border-radius: var(--radius-small);
}
</style>
