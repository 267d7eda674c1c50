<script setup lang="ts">
/** The rows of a table, any number of them: looked through, sorted, found, and changed. */
import { computed, nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { Problem } from '@/api/client'
import type { RowsEdit, VariableSummary } from '@/api/types'
import { GAP } from '@/drawing/geometry/ticks'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf, grouped } from '@/model/words'
import { cellText, fetchNumbers, type Order } from './rows'
import { useStretches } from './stretches'

const ROW_HEIGHT = 26
/** Browsers do not draw elements much taller than this; above it the scroll bar works in shares. */
const TALLEST = 8_000_000
const FIND_AFTER_MS = 200

const props = defineProps<{ table: string; rows: number[] | null; title: string }>()
const emit = defineEmits<{ close: [] }>()

const studies = useStudy()
const side = useSide()
const body = useTemplateRef<HTMLElement>('body')
const order = ref<Order>({ sort: null, descending: false, find: '' })
const tall = ref(false)
const top = ref(0)
const height = ref(160)
const problem = ref('')
const busy = ref(false)
/** The cell that the keys move, and the row where a stretch of chosen rows began. */
const active = ref({ row: 0, column: 0 })
const anchor = ref(0)
const draft = ref<string | null>(null)

const about = computed(() => studies.tableOf(props.table))
const variables = computed((): VariableSummary[] => about.value?.summary.variables ?? [])
const { total, at, need } = useStretches(() => ({
  table: props.table,
  version: about.value?.version ?? 0,
  order: order.value,
  rows: props.rows,
}))

const shownRows = computed(() => Math.max(1, Math.floor(height.value / ROW_HEIGHT)))
const virtual = computed(() => Math.min(total.value * ROW_HEIGHT, TALLEST))
const first = computed(() => {
  const most = Math.max(0, total.value - shownRows.value)
  if (virtual.value < TALLEST) return Math.min(most, Math.floor(top.value / ROW_HEIGHT))
  return Math.round((top.value / Math.max(1, virtual.value - height.value)) * most)
})
const offset = computed(() =>
  virtual.value < TALLEST ? first.value * ROW_HEIGHT : Math.min(top.value, virtual.value),
)
const places = computed(() =>
  Array.from(
    { length: Math.max(0, Math.min(shownRows.value + 2, total.value - first.value)) },
    (_, i) => first.value + i,
  ),
)
/** The stretch of rows that is marked: its first place, and how many there are. */
const marked = computed(() => {
  const [from, to] = [anchor.value, active.value.row].sort((a, b) => a - b)
  return { from, count: total.value ? Math.min(to, total.value - 1) - from + 1 : 0 }
})

/** Numbers of all rows that are marked, also of those that were never in sight. */
async function chosen(): Promise<number[]> {
  const { from, count } = marked.value
  if (props.rows) return props.rows.slice(from, from + count)
  const seen = Array.from({ length: count }, (_, i) => at(from + i)?.row)
  const known = seen.filter((row) => row !== undefined)
  return known.length === count ? known : fetchNumbers(props.table, order.value, from, count)
}

const isChosen = (place: number): boolean =>
  place >= Math.min(anchor.value, active.value.row) &&
  place <= Math.max(anchor.value, active.value.row)

watch([first, shownRows], ([from, count]) => void need(from, from + count + 2), {
  immediate: true,
})
watch(total, (count) => {
  active.value.row = Math.max(0, Math.min(active.value.row, count - 1))
  anchor.value = active.value.row
})

let timer: ReturnType<typeof setTimeout> | undefined
function find(text: string): void {
  clearTimeout(timer)
  timer = setTimeout(() => {
    order.value = { ...order.value, find: text }
    toTop()
  }, FIND_AFTER_MS)
}

function toTop(): void {
  if (body.value) body.value.scrollTop = 0
  active.value = { ...active.value, row: 0 }
  anchor.value = 0
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

/** Moves to a cell, which is scrolled into view and gets the keys. */
async function goTo(row: number, column: number, extend = false): Promise<void> {
  active.value = {
    row: Math.max(0, Math.min(row, total.value - 1)),
    column: Math.max(0, Math.min(column, variables.value.length - 1)),
  }
  if (!extend) anchor.value = active.value.row
  const box = body.value
  if (box) {
    const target = active.value.row
    const whole = shownRows.value - 1
    if (target < first.value) scrollToRow(target)
    else if (target >= first.value + whole) scrollToRow(target - whole + 1)
  }
  await nextTick()
  focusCell()
}

function scrollToRow(place: number): void {
  const share = place / Math.max(1, total.value - shownRows.value)
  body.value!.scrollTop =
    virtual.value < TALLEST ? place * ROW_HEIGHT : share * (virtual.value - height.value)
  top.value = body.value!.scrollTop
}

function focusCell(): void {
  body.value
    ?.querySelector<HTMLElement>(`[data-cell="${active.value.row} ${active.value.column}"]`)
    ?.focus()
}

const editable = (column: number): boolean => variables.value[column]?.recipe === null

function begin(text: string | null): void {
  if (!editable(active.value.column)) {
    problem.value = `“${variables.value[active.value.column].label}” is derived; its expression is changed in the ledger.`
    return
  }
  const name = variables.value[active.value.column].name
  const row = at(active.value.row)
  const value = row?.values[name]
  // What was refused is there to be mended.
  const refused = row && typed.value.get(keyOf(row.row, name))
  draft.value = text ?? refused ?? (value === null || value === undefined ? '' : String(value))
  void nextTick(() => {
    const field = body.value?.querySelector<HTMLInputElement>('.cell__field')
    field?.focus()
    if (text === null) field?.select()
  })
}

async function edit(change: RowsEdit): Promise<boolean> {
  busy.value = true
  try {
    await studies.editRows(props.table, change)
    problem.value = ''
    return true
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
    return false
  } finally {
    busy.value = false
  }
}

/** What was typed and is on its way to the server, by row and variable. */
const typed = ref(new Map<string, string>())
/** Cells whose text could not be read, and waits to be mended. */
const refused = ref(new Set<string>())
const keyOf = (row: number, variable: string): string => `${row} ${variable}`
let writing: Promise<unknown> = Promise.resolve()

/** Moves on at once while what was typed is written; what cannot be read comes back to be mended. */
function commit(down: number, right: number): void {
  const text = draft.value
  const place = { ...active.value }
  const row = at(place.row)
  if (text === null || !row) return
  const { name } = variables.value[place.column]
  const before = row.values[name]
  draft.value = null
  const last = place.row === total.value - 1 && down > 0 && props.rows === null
  const plain = order.value.sort === null && order.value.find === ''
  const key = keyOf(row.row, name)
  if (text.trim() === (before === null || before === undefined ? '' : String(before))) {
    // Typed back to what it was.
    typed.value.delete(key)
    refused.value.delete(key)
  } else {
    typed.value.set(key, text)
    const cells = [{ row: row.row, variable: name, text }]
    // Typing goes on below the last row: another is there for it.
    const change = last && plain ? { cells, add: { count: 1 } } : { cells }
    if (last && plain) total.value += 1
    writing = writing.then(async () => {
      const good = await edit(change)
      if (good) {
        if (typed.value.get(key) === text) typed.value.delete(key)
        refused.value.delete(key)
        return
      }
      refused.value.add(key)
      // What is being typed elsewhere is not interrupted: the cell says that it waits to be mended.
      if (draft.value !== null) return
      active.value = place
      anchor.value = place.row
      begin(text)
    })
  }
  if (down || right) void goTo(place.row + down, place.column + right)
}

const shownText = (place: number, name: string): string => {
  const row = at(place)
  if (!row) return ''
  const value = row.values[name]
  return typed.value.get(keyOf(row.row, name)) ?? (value === null ? 'missing' : cellText(value))
}

function abandon(): void {
  const row = at(active.value.row)
  if (row) {
    const key = keyOf(row.row, variables.value[active.value.column].name)
    typed.value.delete(key)
    refused.value.delete(key)
  }
  draft.value = null
  problem.value = ''
  void nextTick(focusCell)
}

async function clear(): Promise<void> {
  if (!editable(active.value.column)) return
  const { name: variable } = variables.value[active.value.column]
  const rows = await chosen()
  await edit({ cells: rows.map((row) => ({ row, variable, text: '' })) })
}

function key(event: KeyboardEvent): void {
  // Keys of a header or of a row's number are its own.
  const isCell = event.target instanceof HTMLElement && event.target.closest('[data-cell]')
  if (draft.value !== null || !isCell) return
  const { row, column } = active.value
  const page = shownRows.value - 1
  const whole = event.ctrlKey || event.metaKey
  const moves: Record<string, [number, number]> = {
    ArrowUp: [row - 1, column],
    ArrowDown: [row + 1, column],
    ArrowLeft: [row, column - 1],
    ArrowRight: [row, column + 1],
    PageUp: [row - page, column],
    PageDown: [row + page, column],
    Home: [whole ? 0 : row, 0],
    End: [whole ? total.value - 1 : row, variables.value.length - 1],
  }
  if (event.key in moves) void goTo(...moves[event.key], event.shiftKey)
  else if (event.key === 'Enter' || event.key === 'F2') begin(null)
  else if (event.key === 'Delete' || event.key === 'Backspace') void clear()
  else if (event.key.length === 1 && !whole && !event.altKey) begin(event.key)
  else return
  event.preventDefault()
}

function fieldKey(event: KeyboardEvent): void {
  if (event.key === 'Enter') commit(event.shiftKey ? -1 : 1, 0)
  else if (event.key === 'Tab') commit(0, event.shiftKey ? -1 : 1)
  else if (event.key === 'Escape') abandon()
  else return
  event.preventDefault()
  event.stopPropagation()
}

/** Cells of a spreadsheet: lines, parted by tabs. */
async function paste(event: ClipboardEvent): Promise<void> {
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (draft.value !== null || text === '') return
  event.preventDefault()
  event.stopPropagation()
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n$/, '').split('\n')
  await edit({
    paste: {
      start: active.value.row,
      variable: variables.value[active.value.column].name,
      block: lines.map((line) => line.split('\t')),
      order: order.value,
    },
  })
}

async function addRow(): Promise<void> {
  if (await edit({ add: { count: 1 } })) {
    total.value += 1
    await goTo(total.value - 1, 0)
  }
}

async function addVariable(): Promise<void> {
  const taken = new Set(variables.value.map(({ name }) => name))
  let count = variables.value.length + 1
  while (taken.has(`column ${count}`)) count += 1
  await studies.addVariable(props.table, `column ${count}`)
  side.show({ kind: 'variable', name: `column ${count}` })
}

const deleteRows = async () => edit({ delete: await chosen() })

function look(): void {
  if (body.value) height.value = Math.max(ROW_HEIGHT, body.value.clientHeight - ROW_HEIGHT)
}

onMounted(() => {
  look()
  new ResizeObserver(look).observe(body.value!)
})
</script>

<template>
  <section
    class="card drawer"
    :class="{ 'drawer--tall': tall }"
    :aria-label="`Rows: ${title}`"
    :aria-busy="busy"
  >
    <header class="drawer__head">
      <h2 class="drawer__title">{{ title }}</h2>
      <span class="quiet" role="status">
        {{ countOf(total, 'row')
        }}<template v-if="order.find"> of {{ grouped(about?.summary.rows ?? 0) }}</template>
      </span>
      <template v-if="rows === null">
        <input
          class="drawer__find"
          type="search"
          placeholder="Find"
          aria-label="Find in the rows"
          @input="find(($event.target as HTMLInputElement).value)"
        />
        <button type="button" class="link" @click="addRow">+ row</button>
        <button type="button" class="link" @click="addVariable">+ variable</button>
      </template>
      <button type="button" class="link" :disabled="!marked.count" @click="deleteRows">
        Delete {{ marked.count > 1 ? countOf(marked.count, 'row') : 'row' }}
      </button>
      <button type="button" class="link" :aria-pressed="tall" @click="tall = !tall">
        {{ tall ? 'Lower' : 'Taller' }}
      </button>
      <button type="button" class="link" @click="emit('close')">Close</button>
    </header>
    <p v-if="problem" class="drawer__problem" role="alert">{{ problem }}</p>
    <div
      ref="body"
      class="drawer__rows"
      role="grid"
      aria-label="Rows"
      :aria-rowcount="total + 1"
      :aria-colcount="variables.length + 1"
      @scroll="top = body!.scrollTop"
      @keydown="key"
      @paste="paste"
    >
      <div class="line line--head" role="row" aria-rowindex="1">
        <span class="cell cell--number cell--place" role="columnheader">Row</span>
        <span
          v-for="v in variables"
          :key="v.name"
          class="cell"
          :class="`cell--${v.kind}`"
          role="columnheader"
          :aria-sort="sorted(v.name)"
        >
          <button
            type="button"
            class="cell__sort"
            :title="`Sort by ${v.label}`"
            :disabled="rows !== null"
            @click="sort(v.name)"
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
              'line--chosen': isChosen(place),
              'line--selected': side.selected.has(at(place)?.row ?? -1),
            }"
            role="row"
            :aria-rowindex="place + 2"
            :aria-selected="isChosen(place)"
          >
            <span class="cell cell--number cell--place" role="rowheader">
              <button
                v-if="at(place)"
                type="button"
                class="link"
                tabindex="-1"
                @click="side.tune(`row-${at(place)!.row}`)"
              >
                {{ at(place)!.row + 1 }}
              </button>
            </span>
            <span
              v-for="(v, column) in variables"
              :key="v.name"
              class="cell"
              :class="[
                `cell--${v.kind}`,
                {
                  'cell--missing': at(place)?.values[v.name] === null,
                  'cell--refused': refused.has(keyOf(at(place)?.row ?? -1, v.name)),
                },
              ]"
              :aria-invalid="refused.has(keyOf(at(place)?.row ?? -1, v.name)) || undefined"
              role="gridcell"
              :data-cell="`${place} ${column}`"
              :tabindex="place === active.row && column === active.column ? 0 : -1"
              :aria-readonly="v.recipe !== null"
              @click="goTo(place, column, $event.shiftKey)"
              @dblclick="begin(null)"
            >
              <input
                v-if="draft !== null && place === active.row && column === active.column"
                v-model="draft"
                class="cell__field"
                :aria-label="`${v.label}, row ${(at(place)?.row ?? place) + 1}`"
                @keydown="fieldKey"
                @blur="commit(0, 0)"
              /><template v-else>{{ shownText(place, v.name) }}</template>
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

.drawer__title {
  font-size: 15px;
  font-weight: 600;
}

.drawer__head [role='status'] {
  flex: 1;
  font-size: 14px;
}

.drawer__find {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 1px 8px;
  width: 110px;
}

.drawer__head .link:disabled {
  opacity: 0.5;
  cursor: default;
}

.drawer__problem {
  color: var(--caution);
  font-size: 14px;
}

.drawer__rows {
  overflow: auto;
  margin-top: 4px;
  flex: 1;
  min-height: 0;
  position: relative;
  font-size: 14px;
  scrollbar-width: thin;
}

.space {
  position: relative;
  min-width: max-content;
}

.window {
  will-change: transform;
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
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
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

.cell:focus-visible {
  outline-offset: -2px;
}

.cell__sort {
  font-weight: 600;
  padding: 0;
  width: 100%;
  text-align: inherit;
  overflow: hidden;
  text-overflow: ellipsis;
  cursor: pointer;
}

.cell__field {
  width: calc(100% + 8px);
  margin: 0 -4px;
  padding: 0 3px;
  height: 24px;
  text-align: inherit;
  background: var(--raised);
  border: 1px solid var(--accent);
  border-radius: 3px;
}
</style>
