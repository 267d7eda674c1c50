<script setup lang="ts">
/** The study's tables, the open table's variables, and the study's figures. */
import { computed, useTemplateRef } from 'vue'
import { blankDocument } from '@/api/blank'
import type { FigureDocument, VariableSummary } from '@/api/types'
import { copyOf, useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf, KIND_SIGNS, onAxis } from '@/model/words'
import { figureName } from '@/kinds'
import { plateName } from '@/plates/names'
import Distribution from './Distribution.vue'
import FigureThumb from './FigureThumb.vue'
import LedgerPicture from './LedgerPicture.vue'
import PlateThumb from './PlateThumb.vue'

const emit = defineEmits<{
  open: [figure: string]
  plate: [plate: string]
  file: [file: File]
  type: []
  delete: []
}>()

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
const picker = useTemplateRef('picker')

const used = computed(() => {
  const document = figure.document
  if (!document || document.table !== studies.openTable) return new Set<string>()
  return new Set([document.x, ...document.y, document.colour?.variable])
})

function look(name: string): void {
  side.toggle({ kind: 'variable', name })
}

function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  if (input.files?.[0]) emit('file', input.files[0])
  input.value = ''
}

function spoken(v: VariableSummary): string {
  const missing = v.missing ? `, ${v.missing} missing` : ''
  return `${v.label}${v.unit ? `, ${v.unit}` : ''}, ${v.kind}${missing}`
}

/** A figure of the open table: like the one that is open, or of its first two numbers. */
async function addFigure(): Promise<void> {
  const table = studies.table
  if (!table) return
  const axes = table.summary.variables.filter(onAxis)
  const numbers = axes.filter(({ kind }) => kind === 'number')
  if (axes.length < 2 || !numbers.length) return
  const open = figure.document
  const y = numbers.at(-1)!
  const x = axes.find((v) => v !== y)!
  const document: FigureDocument =
    open?.table === table.id
      ? { ...copyOf(open), name: null }
      : blankDocument(table.id, x.name, y.name)
  const made = await studies.addFigure(document)
  emit('open', made.id)
}
</script>

<template>
  <nav class="ledger" aria-label="Ledger">
    <header class="head">
      <select
        v-if="studies.tables.length > 1"
        v-model="studies.openTable"
        class="head__table"
        aria-label="Table"
      >
        <option v-for="t in studies.tables" :key="t.id" :value="t.id">{{ t.name }}</option>
      </select>
      <strong v-else class="head__name">{{ studies.table?.name ?? 'No table yet' }}</strong>
      <button
        v-if="studies.table"
        type="button"
        class="link"
        :title="`About ${studies.table.name}: its rows, reading in again, shaping, export`"
        :aria-label="`About the table ${studies.table.name}`"
        :aria-expanded="side.shown.kind === 'table'"
        @click="side.toggle({ kind: 'table' })"
      >
        {{ countOf(studies.table.summary.rows, 'row') }}
      </button>
    </header>
    <ul v-if="studies.table" class="variables">
      <li v-for="v in studies.table.summary.variables" :key="v.name">
        <button
          type="button"
          class="variable"
          :class="{ 'variable--used': used.has(v.name) }"
          :aria-label="spoken(v)"
          :aria-pressed="side.shown.kind === 'variable' && side.shown.name === v.name"
          :title="v.missing ? `${v.label}: ${countOf(v.missing, 'value')} missing` : v.label"
          @click="look(v.name)"
        >
          <span class="variable__sign" aria-hidden="true">{{ KIND_SIGNS[v.kind] }}</span>
          <span class="variable__label"
            >{{ v.label }} <span class="variable__unit">{{ v.unit }}</span></span
          >
          <span v-if="v.missing" class="variable__missing">○ {{ v.missing }}</span>
          <Distribution :variable="v" />
        </button>
      </li>
    </ul>
    <button
      v-if="studies.table"
      type="button"
      class="link add"
      @click="side.show({ kind: 'derive' })"
    >
      + Derive a variable
    </button>
    <button type="button" class="link add" @click="picker?.click()">+ Read in a file</button>
    <button type="button" class="link add" @click="emit('type')">+ Type a table</button>
    <input
      ref="picker"
      type="file"
      class="out-of-sight"
      tabindex="-1"
      aria-label="File to read in"
      accept=".csv,.tsv,.txt,.tab,.dat,.xlsx,.ods,.parquet,.arrow,.feather,.ipc,.json,.ndjson,.jsonl,.zip,text/*"
      @change="picked"
    />
    <header class="head head--figures">
      <strong class="head__name">Figures</strong>
      <button
        v-if="figure.id"
        type="button"
        class="link head__delete"
        aria-label="Delete the open figure"
        title="Delete the open figure"
        @click="emit('delete')"
      >
        Delete
      </button>
      <button
        v-if="studies.table"
        type="button"
        class="link"
        aria-label="Add a figure"
        title="Add a figure"
        @click="addFigure"
      >
        +
      </button>
    </header>
    <ul class="figures" aria-label="Figures">
      <li v-for="f in studies.figures" :key="f.id">
        <LedgerPicture
          :open="f.id === figure.id"
          :title="figureName(f.document, studies.variableOf)"
          :name="
            figureName(
              f.id === figure.id && figure.document ? figure.document : f.document,
              studies.variableOf,
            )
          "
          @open="emit('open', f.id)"
        >
          <FigureThumb :figure="f" :open="f.id === figure.id" />
        </LedgerPicture>
      </li>
    </ul>
    <p v-for="one in studies.unreadable" :key="one.id" class="quiet unreadable" role="note">
      {{ one.problem }}
    </p>
    <template v-if="studies.figures.length">
      <header class="head head--figures">
        <strong class="head__name">Plates</strong>
        <button
          v-if="plate.id"
          type="button"
          class="link head__delete"
          aria-label="Delete the open plate"
          title="Delete the open plate; its figures stay"
          @click="emit('delete')"
        >
          Delete
        </button>
        <button
          type="button"
          class="link"
          aria-label="Add a plate"
          title="Add a plate: figures side by side"
          @click="side.show({ kind: 'new-plate' })"
        >
          +
        </button>
      </header>
      <ul class="figures" aria-label="Plates">
        <li v-for="p in studies.plates" :key="p.id">
          <LedgerPicture
            :open="p.id === plate.id"
            :title="plateName(p.document, studies.figures, studies.variableOf)"
            :name="
              plateName(
                p.id === plate.id && plate.document ? plate.document : p.document,
                studies.figures,
                studies.variableOf,
              )
            "
            @open="emit('plate', p.id)"
          >
            <PlateThumb :plate="p" />
          </LedgerPicture>
        </li>
      </ul>
    </template>
  </nav>
</template>

<style scoped>
.unreadable {
  padding: 2px 8px;
  color: var(--caution);
}

.ledger {
  overflow: auto;
  padding: 12px 4px 12px 12px;
  scrollbar-width: thin;
}

.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  font-size: 13.5px;
  color: var(--soft-ink);
  padding: 0 8px 0 4px;
  min-height: 28px;
}

.head--figures {
  margin-top: 12px;
}

.head--figures .link:last-child {
  font-size: 20px;
  line-height: 1;
  padding: 0 6px;
}

.head__name {
  flex: 1;
}

.head .head__delete {
  font-size: 13.5px;
}

.head__table {
  font-weight: 600;
  color: var(--ink);
  padding: 2px 4px;
  margin-left: -4px;
  border-radius: 4px;
  min-width: 0;
  flex: 1;
  appearance: auto;
  cursor: pointer;
}

.variables,
.figures {
  list-style: none;
  margin: 0;
  padding: 0;
}

.variable {
  width: 100%;
  text-align: left;
  cursor: pointer;
  display: flex;
  align-items: center;
  gap: 6px;
  height: 27px;
  padding: 0 6px 0 4px;
  border-radius: 6px;
}

.variable--used {
  background: var(--chosen);
}

.variable:hover,
.variable[aria-pressed='true'] {
  box-shadow: inset 0 0 0 1.5px var(--line);
}

.variable__sign {
  width: 26px;
  flex: none;
  text-align: center;
  font-size: 13px;
  color: var(--accent);
}

.variable__label {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}

.variable__unit,
.variable__missing {
  font-size: 12.5px;
  color: var(--soft-ink);
  white-space: nowrap;
}

.variable svg {
  flex: none;
}

.add {
  display: block;
  margin: 4px 0 0 8px;
  font-size: 14px;
}

.figures {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  padding-right: 4px;
}
</style>
