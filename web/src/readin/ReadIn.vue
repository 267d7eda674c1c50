<script setup lang="ts">
/** Reading in a file: seen and corrected before it counts. */
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue'
import { client, finished, Problem, sendFile, take } from '@/api/client'
import type {
  Kind,
  Preview,
  ReadOptions,
  Table,
  TableTaken,
  Upload,
  VariableSummary,
} from '@/api/types'
import { GAP } from '@/drawing/geometry/ticks'
import { useStudy } from '@/stores/study'
import { countOf, KIND_SIGNS } from '@/model/words'

const props = defineProps<{
  file: File
  /** The table whose rows it takes the place of; null for a table of its own. */
  again?: string | null
}>()
const emit = defineEmits<{ taken: [made: TableTaken]; replaced: [said: string]; left: [] }>()

const KINDS: Kind[] = ['number', 'category', 'date', 'text']
const DELIMITERS = [
  { value: ',', label: 'comma' },
  { value: ';', label: 'semicolon' },
  { value: '\t', label: 'tab' },
  { value: '|', label: 'bar' },
]
const THOUSANDS = [
  { value: '', label: 'none' },
  { value: ',', label: 'comma' },
  { value: '.', label: 'point' },
  { value: "'", label: 'apostrophe' },
  { value: ' ', label: 'space' },
]
const ENCODINGS = ['utf-8', 'utf-16', 'windows-1252']
const MEGABYTE = 1_000_000

const studies = useStudy()
const upload = shallowRef<Upload | null>(null)
const preview = shallowRef<Preview | null>(null)
const problem = shallowRef<Problem | null>(null)
/** What goes on, and how far it is; null while nothing does. */
const work = ref<{ what: string; share: number } | null>(null)
const busy = computed(() => work.value !== null)
const replaced = computed(() => (props.again ? studies.tableOf(props.again) : null))
const name = ref(replaced.value?.name ?? props.file.name.replace(/\.[^.]+$/, ''))
/** Guesses that were corrected by hand; the others may change with them. */
const corrected = ref<ReadOptions>(asBefore())
const stop = new AbortController()
let looking: AbortController | null = null

function readOf(table: Table): VariableSummary[] {
  return table.summary.variables.filter(({ recipe }) => recipe === null)
}

/** A file that is read in again is read as it was, each variable as the kind that it is. */
function asBefore(): ReadOptions {
  const table = replaced.value
  if (!table) return {}
  return {
    ...table.options,
    sheet: null,
    encoding: null,
    kinds: Object.fromEntries(readOf(table).map(({ name: v, kind }) => [v, kind])),
  }
}

/** Variables that a newer file no longer holds, and such as are new. */
const compared = computed(() => {
  const found = preview.value?.variables.map((v) => v.name)
  if (!replaced.value || !found) return null
  const before = readOf(replaced.value).map((v) => v.name)
  return {
    gone: before.filter((v) => !found.includes(v)),
    new: found.filter((v) => !before.includes(v)),
  }
})

/** What was typed by hand in a file may be parted by any mark. */
const delimiters = computed(() => {
  const mark = preview.value?.options.delimiter ?? ','
  const known = DELIMITERS.some(({ value }) => value === mark)
  return known ? DELIMITERS : [...DELIMITERS, { value: mark, label: `“${mark}”` }]
})
const dayFirst = computed(() =>
  corrected.value.day_first == null ? '' : corrected.value.day_first ? 'day' : 'month',
)
const headers = computed(() => preview.value?.options.header ?? 1)

async function start(): Promise<void> {
  try {
    const { max_upload_bytes: most } = await take<{ max_upload_bytes: number }>(
      client.GET('/api/limits'),
    )
    if (props.file.size > most) {
      const [size, limit] = [props.file.size, most].map((n) => Math.round(n / MEGABYTE))
      throw new Problem(
        413,
        `${props.file.name} is too large: ${size} MB, and at most ${limit} MB can be read.`,
        'Take out variables or rows that are not needed, or start the server with a larger --max-upload.',
      )
    }
    work.value = { what: 'Sending the file …', share: 0 }
    upload.value = await sendFile(props.file, listen, stop.signal)
    await look()
  } catch (error) {
    failed(error)
  }
}

function listen(share: number): void {
  if (work.value) work.value = { ...work.value, share }
}

/** Every correction starts a look of its own and stops the one before. */
async function look(): Promise<void> {
  looking?.abort()
  const mine = (looking = new AbortController())
  work.value = { what: 'Reading the file …', share: 0 }
  try {
    const found = await finished<Preview>(
      client.POST('/api/uploads/{upload_id}/preview', {
        params: { path: { upload_id: upload.value!.id }, header: { prefer: 'respond-async' } },
        body: corrected.value,
      }),
      listen,
      mine.signal,
    )
    if (mine !== looking) return
    preview.value = found
    problem.value = null
    work.value = null
  } catch (error) {
    if (mine === looking) failed(error)
  }
}

function failed(error: unknown): void {
  work.value = null
  if (error instanceof Problem) problem.value = error
  else if (!(error instanceof DOMException)) throw error
}

function correct(change: ReadOptions): void {
  corrected.value = { ...corrected.value, ...change }
  void look()
}

const chosen = (event: Event): string => (event.target as HTMLSelectElement).value

function setKind(variable: string, kind: string): void {
  correct({ kinds: { ...corrected.value.kinds, [variable]: kind as Kind } })
}

function setMissing(event: Event): void {
  const own = chosen(event)
    .split(/[,\s]+/)
    .filter(Boolean)
  const standard = preview.value?.options.missing ?? []
  correct({ missing: [...new Set([...standard, ...own])].slice(0, 50) })
}

const takeOne = (options: ReadOptions, called: string | null, keep: boolean): Promise<TableTaken> =>
  finished<TableTaken>(
    client.POST('/api/studies/{study_id}/tables', {
      params: { path: { study_id: studies.study!.id }, header: { prefer: 'respond-async' } },
      body: { upload: upload.value!.id, name: called, options, keep },
    }),
    listen,
    stop.signal,
  )

async function takeIn(): Promise<void> {
  work.value = { what: 'Taking it in …', share: 0 }
  try {
    const { id } = upload.value!
    if (props.again) {
      const made = await studies.readAgain(props.again, id, corrected.value, listen, stop.signal)
      upload.value = null
      emit('replaced', saidOf(made.gone, made.new))
    } else {
      const made = await takeOne(corrected.value, name.value.trim() || null, false)
      upload.value = null
      emit('taken', made)
    }
  } catch (error) {
    failed(error)
  }
}

const listOf = (names: string[]): string => names.map((one) => `“${one}”`).join(', ')

function saidOf(gone: string[], fresh: string[]): string {
  const rows = countOf(replaced.value!.summary.rows, 'row')
  const parts = [
    `${name.value} was read in again: ${rows}.`,
    gone.length ? `No longer there: ${listOf(gone)}.` : '',
    fresh.length ? `New: ${listOf(fresh)}.` : '',
  ]
  return parts.filter(Boolean).join(' ')
}

/** Each sheet becomes a table of its own; corrections apply to the sheet that is shown. */
async function takeEvery(): Promise<void> {
  const { sheets, options } = preview.value!
  try {
    const made: TableTaken[] = []
    for (const [i, sheet] of sheets.entries()) {
      work.value = { what: `Taking ${sheet} in …`, share: 0 }
      const shown = sheet === options.sheet
      const last = i === sheets.length - 1
      made.push(await takeOne(shown ? corrected.value : { sheet }, null, !last))
    }
    upload.value = null
    made.forEach((one) => emit('taken', one))
  } catch (error) {
    failed(error)
  }
}

/** Another sheet is another table: what was corrected on the last one says nothing of it. */
function setSheet(sheet: string): void {
  corrected.value = { sheet }
  name.value = sheet
  void look()
}

function leave(): void {
  emit('left')
}

onBeforeUnmount(() => {
  stop.abort()
  looking?.abort()
  if (upload.value)
    void client.DELETE('/api/uploads/{upload_id}', {
      params: { path: { upload_id: upload.value.id } },
    })
})

void start()
</script>

<template>
  <section class="read" aria-label="Read in a file">
    <header class="read__head">
      <div>
        <h1 class="read__title">{{ file.name }}</h1>
        <p v-if="preview" class="quiet">
          {{ countOf(preview.rows, 'row') }}, {{ countOf(preview.variables.length, 'variable') }}.
          <template v-if="replaced"
            >They take the place of the rows of {{ replaced.name }}.</template
          >
          <template v-else>This is how it would be read; correct what is not right.</template>
        </p>
      </div>
      <div class="read__actions">
        <v-btn @click="leave">{{ busy ? 'Stop' : 'Leave it' }}</v-btn>
        <v-btn
          v-if="(preview?.sheets.length ?? 0) > 1 && !replaced"
          :disabled="problem !== null || busy"
          @click="takeEvery"
        >
          Take all {{ preview?.sheets.length }} tables in
        </v-btn>
        <v-btn
          color="primary"
          variant="flat"
          :disabled="!preview || problem !== null || busy"
          @click="takeIn"
        >
          {{ replaced ? 'Put it in their place' : 'Take it in' }}
        </v-btn>
      </div>
    </header>
    <div v-if="work" class="card read__work">
      <p role="status">{{ work.what }}</p>
      <v-progress-linear color="primary" :model-value="work.share * 100" aria-label="Progress" />
    </div>
    <div v-if="compared?.gone.length" class="card read__problem" role="status">
      No longer in the file: {{ listOf(compared.gone) }}. Figures that show
      {{ compared.gone.length === 1 ? 'it' : 'them' }} will say so.
    </div>
    <div v-if="compared?.new.length" class="card" role="status">
      New in the file: {{ listOf(compared.new) }}.
    </div>
    <div v-if="problem" class="card read__problem" role="alert">
      <strong>{{ problem.message }}</strong>
      <p v-if="problem.detail">{{ problem.detail }}</p>
    </div>
    <div
      v-for="caution in preview?.cautions ?? []"
      :key="caution"
      class="card read__problem"
      role="status"
    >
      {{ caution }}
    </div>
    <div v-if="preview" class="card read__options">
      <label v-if="!replaced" class="field">
        Name of the table
        <input v-model="name" maxlength="200" />
      </label>
      <label v-if="preview.sheets.length > 1" class="field">
        Sheet
        <select :value="preview.options.sheet" @change="setSheet(chosen($event))">
          <option v-for="sheet in preview.sheets" :key="sheet">{{ sheet }}</option>
        </select>
      </label>
      <label v-if="preview.options.delimiter" class="field">
        Values are parted by
        <select :value="preview.options.delimiter" @change="correct({ delimiter: chosen($event) })">
          <option v-for="d in delimiters" :key="d.value" :value="d.value">{{ d.label }}</option>
        </select>
      </label>
      <label v-if="preview.options.header !== null" class="field">
        Headers are in
        <select :value="headers" @change="correct({ header: Number(chosen($event)) })">
          <option :value="0">no line</option>
          <option v-for="line in Math.max(10, headers)" :key="line" :value="line">
            line {{ line }}
          </option>
        </select>
      </label>
      <label v-if="preview.options.decimal" class="field">
        Decimal mark
        <select :value="preview.options.decimal" @change="correct({ decimal: chosen($event) })">
          <option value=".">point</option>
          <option value=",">comma</option>
        </select>
      </label>
      <label v-if="preview.options.delimiter" class="field">
        Thousands mark
        <select
          :value="preview.options.thousands ?? ''"
          @change="correct({ thousands: chosen($event) })"
        >
          <option v-for="t in THOUSANDS" :key="t.value" :value="t.value">{{ t.label }}</option>
        </select>
      </label>
      <label v-if="preview.ambiguous.length || corrected.day_first != null" class="field">
        In 03/04/2031
        <select :value="dayFirst" @change="correct({ day_first: chosen($event) === 'day' })">
          <option value="" disabled>please say</option>
          <option value="day">3 is the day</option>
          <option value="month">3 is the month</option>
        </select>
      </label>
      <label v-if="preview.options.encoding" class="field">
        Encoding
        <select :value="preview.options.encoding" @change="correct({ encoding: chosen($event) })">
          <option v-for="e in ENCODINGS" :key="e">{{ e }}</option>
        </select>
      </label>
      <label class="field">
        Also missing
        <input placeholder="such as −999" @change="setMissing" />
      </label>
    </div>
    <div v-if="preview" class="card read__rows" tabindex="0" role="region" aria-label="First rows">
      <table>
        <thead>
          <tr>
            <th class="row-number" scope="col">Row</th>
            <th v-for="v in preview.variables" :key="v.name" scope="col" :class="v.kind">
              <span class="name">{{ v.name }}</span>
              <span v-if="v.unit" class="quiet">{{ GAP + v.unit }}</span>
              <span class="kind">
                <span class="kind__sign" aria-hidden="true">{{ KIND_SIGNS[v.kind] }}</span>
                <select
                  :value="v.kind"
                  :aria-label="`Kind of ${v.name}`"
                  @change="setKind(v.name, chosen($event))"
                >
                  <option v-for="kind in KINDS" :key="kind">{{ kind }}</option>
                </select>
              </span>
              <span class="facts">
                {{ v.missing ? `${v.missing} missing` : 'none missing' }}
              </span>
              <button
                v-if="v.could_be_category"
                type="button"
                class="choice as-category"
                :aria-label="`Read ${v.name} as a category`"
                @click="setKind(v.name, 'category')"
              >
                few values: a category?
              </button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(row, i) in preview.head" :key="i">
            <th class="row-number" scope="row">{{ i + 1 }}</th>
            <td
              v-for="(cell, j) in row"
              :key="j"
              :class="[preview.variables[j].kind, { missing: cell === null }]"
            >
              {{ cell ?? 'missing' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.read {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 12px 12px 12px 8px;
  min-height: 0;
}

.read__head {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

.read__title {
  font-size: 19px;
  font-weight: 600;
  line-height: 1.3;
}

.read__actions {
  display: flex;
  gap: 8px;
}

.read__problem {
  background: var(--caution-ground);
  color: var(--caution);
  box-shadow: none;
  padding: 8px 12px;
}

.read__options {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(118px, 1fr));
  gap: 12px;
}

.read__rows {
  overflow: auto;
  min-height: 0;
  padding: 0;
}

table {
  border-collapse: separate;
  border-spacing: 0;
  font-size: 14px;
}

th,
td {
  padding: 2px 12px;
  text-align: left;
  white-space: nowrap;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}

thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--raised);
  vertical-align: top;
  padding-top: 8px;
  padding-bottom: 6px;
}

.name {
  font-weight: 600;
}

.kind {
  display: flex;
  align-items: center;
  gap: 2px;
  margin: 2px 0;
}

.kind__sign {
  color: var(--accent);
  font-size: 13px;
  min-width: 22px;
}

.kind select {
  appearance: auto;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 1px 4px;
  color: var(--ink);
  background: var(--raised);
  font: inherit;
}

.as-category {
  display: block;
  margin-top: 3px;
  font-size: 12.5px;
  padding: 2px 6px;
}

.read__work {
  display: grid;
  gap: 6px;
}

.facts {
  font-size: 12.5px;
  color: var(--soft-ink);
}

td.number {
  text-align: right;
}

.row-number {
  color: var(--soft-ink);
  text-align: right;
}

.missing {
  color: var(--caution);
}
</style>
