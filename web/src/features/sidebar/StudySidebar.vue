<script setup lang="ts">
/** The study's tables, the open table's variables, and the study's figures. */
import { computed } from 'vue'
import { blankDocument } from '@/figure-model/blank'
import type { Figure, TableTaken, VariableSummary } from '@/api/types'
import { copyOf } from '@/lib/copy'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { READABLE } from '@/lib/dropped-files'
import { countOf, KIND_SIGNS } from '@/figure-model/words'
import { figureName } from '@/kinds'
import { plateName } from '@/plates/names'
import { offerActs } from '@/stores/commands'
import { byAndBy } from '@/lib/idle-list'
import Distribution from './Distribution.vue'
import FigureThumb from '@/components/FigureThumb.vue'
import SidebarPicture from '@/components/SidebarPicture.vue'
import OpenDataset from './OpenDataset.vue'
import PlateThumb from './PlateThumb.vue'
import UiFile from '@/ui/UiFile.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiAction from '@/ui/UiAction.vue'

const emit = defineEmits<{
  open: [figure: string]
  plate: [plate: string]
  file: [file: File]
  type: []
  taken: [made: TableTaken]
  delete: []
}>()

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()

const figures = byAndBy(() => studies.figures)
const plates = byAndBy(() => studies.plates)

const used = computed(() => {
  const document = figure.document
  if (!document || document.table !== studies.openTable) return new Set<string>()
  return new Set([document.x, ...document.y, document.colour?.variable])
})

function look(name: string): void {
  side.toggle({ kind: 'variable', name })
}

/** On its way to an axis, to colour, size or labels of the figure. */
function drag({ dataTransfer }: DragEvent, name: string): void {
  if (!dataTransfer || !studies.openTable) return
  dataTransfer.effectAllowed = 'copy'
  dataTransfer.setData('text/plain', name)
  side.dragged = { table: studies.openTable, name }
}

function spoken(v: VariableSummary): string {
  const missing = v.missing ? `, ${v.missing} missing` : ''
  return `${v.label}${v.unit ? `, ${v.unit}` : ''}, ${v.kind}${missing}`
}

/** A figure of the open table: of the pair that promises most of those that no figure shows. */
async function addFigure(): Promise<void> {
  const { table } = studies
  if (!table) return
  const { pairs } = await studies.suggestions(table.id)
  const isShown = ({ x, y }: { x: string; y: string }): boolean =>
    studies.figures.some(
      ({ document }) => document.table === table.id && document.x === x && document.y[0] === y,
    )
  const next = pairs.find((pair) => !isShown(pair)) ?? pairs[0]
  if (!next || !studies.tableOf(table.id)) return
  const made = await studies.addFigure(blankDocument(table.id, next.x, next.y))
  if (added(made)) side.arrived = table.id
}

/** A figure like the one that is open, to be changed beside it. */
async function copyFigure(): Promise<void> {
  if (figure.document) added(await studies.addFigure({ ...copyOf(figure.document), name: null }))
}

/** Opens a figure that was added, where its study is still the one that is open. */
function added({ id }: Figure): boolean {
  const isHere = studies.figures.some((one) => one.id === id)
  if (isHere) emit('open', id)
  return isHere
}

const table = () => (studies.table ? '' : 'There is no table yet.')
offerActs('Data and figures', () => [
  {
    label: 'Derive a variable',
    find: 'calculate compute formula column transform logarithm ratio new',
    why: table(),
    does: () => side.show({ kind: 'derive' }),
  },
  {
    label: 'Type a table',
    find: 'enter data by hand new blank',
    does: () => emit('type'),
  },
  {
    label: 'Add a figure',
    find: 'new plot another chart',
    why: table(),
    does: addFigure,
  },
  {
    label: 'Copy the open figure',
    find: 'duplicate clone same again plot chart',
    why: figure.id ? '' : 'No figure is open.',
    does: copyFigure,
  },
  {
    label: 'Delete the open figure',
    find: 'remove plot',
    why: figure.id ? '' : 'No figure is open.',
    does: () => emit('delete'),
  },
  {
    label: 'About the table',
    find: 'rows replace read in again shape stack spread join export csv data',
    why: table(),
    does: () => side.show({ kind: 'table' }),
  },
  {
    label: 'New plate',
    find: 'several figures on one page panel facet small multiples grid',
    why: studies.figures.length ? '' : 'There is no figure yet.',
    does: () => side.show({ kind: 'new-plate' }),
  },
  {
    label: 'Strongest pairs',
    find: 'correlation all variables ranking which go together',
    why: table(),
    does: () => side.show({ kind: 'pairs' }),
  },
])
</script>

<template>
  <nav class="sidebar" aria-label="Data and figures">
    <header class="head">
      <UiSelect
        v-if="studies.tables.length > 1"
        bare
        class="ui-fill"
        label="Table"
        :model-value="studies.openTable"
        :options="studies.tables.map(({ id, name }) => ({ value: id, label: name }))"
        @update:model-value="studies.openTable = $event"
      />
      <strong v-else class="ui-fill">{{ studies.table?.name ?? 'No table yet' }}</strong>
      <UiAction
        v-if="studies.table"
        kind="words"
        :tip="`About ${studies.table.name}: rows, import again, reshape, export`"
        :label="`${countOf(studies.table.summary.rows, 'row')}: about the table ${studies.table.name}`"
        :aria-expanded="side.shown.kind === 'table'"
        @click="side.toggle({ kind: 'table' })"
      >
        {{ countOf(studies.table.summary.rows, 'row') }}
      </UiAction>
    </header>
    <ul v-if="studies.table" class="plain-list">
      <li v-for="v in studies.table.summary.variables" :key="v.name">
        <UiAction
          kind="row"
          class="variable"
          :class="{ 'variable--used': used.has(v.name) }"
          :label="spoken(v)"
          :pressed="side.shown.kind === 'variable' && side.shown.name === v.name"
          :tip="v.missing ? `${v.label}: ${countOf(v.missing, 'value')} missing` : v.label"
          draggable="true"
          @dragstart="drag($event, v.name)"
          @dragend="side.dragged = null"
          @click="look(v.name)"
        >
          <span class="variable__sign" :data-sign="KIND_SIGNS[v.kind]" />
          <span class="ui-fill clipped"
            >{{ v.label }} <span class="quiet small">{{ v.unit }}</span></span
          >
          <span
            v-if="v.missing"
            class="variable__missing quiet small"
            :data-sign="`○ ${v.missing}`"
          />
          <Distribution :variable="v" />
        </UiAction>
      </li>
    </ul>
    <div class="adds">
      <UiAction v-if="studies.table" kind="words" @click="side.show({ kind: 'derive' })">
        + Derive a variable
      </UiAction>
      <UiFile
        kind="words"
        action="+ Import a file"
        label="File to import"
        :accept="READABLE"
        @picked="emit('file', $event)"
      />
      <UiAction kind="words" @click="emit('type')">+ Type a table</UiAction>
      <OpenDataset @taken="emit('taken', $event)" />
    </div>
    <header class="head head--figures">
      <strong class="ui-fill">Figures</strong>
      <UiAction
        v-if="figure.id"
        kind="words"
        class="small"
        label="Copy the open figure"
        tip="Copy the open figure, to change the copy"
        @click="copyFigure"
      >
        Copy
      </UiAction>
      <UiAction
        v-if="figure.id"
        kind="words"
        class="small"
        label="Delete the open figure"
        tip="Delete the open figure"
        @click="emit('delete')"
      >
        Delete
      </UiAction>
      <UiAction
        v-if="studies.table"
        kind="words"
        label="+ Add a figure"
        tip="Add a figure of the next pair worth a look"
        @click="addFigure"
      >
        +
      </UiAction>
    </header>
    <ul class="plain-list figures" aria-label="Figures">
      <li v-for="f in figures" :key="f.id">
        <SidebarPicture
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
        </SidebarPicture>
      </li>
    </ul>
    <p v-for="one in studies.unreadable" :key="one.id" class="wrong" role="note">
      {{ one.problem }}
    </p>
    <template v-if="studies.figures.length">
      <header class="head head--figures">
        <strong class="ui-fill">Plates</strong>
        <UiAction
          v-if="plate.id"
          kind="words"
          class="small"
          label="Delete the open plate"
          tip="Delete the open plate; its figures stay"
          @click="emit('delete')"
        >
          Delete
        </UiAction>
        <UiAction
          kind="words"
          label="Add a plate"
          tip="Add a plate: figures side by side"
          @click="side.show({ kind: 'new-plate' })"
        >
          +
        </UiAction>
      </header>
      <ul class="plain-list figures" aria-label="Plates">
        <li v-for="p in plates" :key="p.id">
          <SidebarPicture
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
          </SidebarPicture>
        </li>
      </ul>
    </template>
  </nav>
</template>

<style scoped>
.sidebar {
  padding: 12px 4px 12px 12px;
}

.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  font-size: var(--text-small);
  color: var(--soft-ink);
  padding: 0 8px 0 4px;
  min-height: 28px;
  margin-bottom: 4px;
}

.head :deep(.v-field) {
  color: var(--ink);
  font-weight: 600;
}

.head--figures {
  margin-top: 12px;
}

.head--figures > :last-child {
  font-size: var(--text-head);
  line-height: 1;
  padding: 0 6px;
}

.variable.ui-action {
  height: 27px;
  padding: 0 6px 0 4px;
  font-size: var(--text-body);
}

.variable :deep(.v-btn__content) {
  display: flex;
  align-items: center;
  gap: 6px;
}

.variable--used {
  background: var(--chosen);
}

.variable:hover,
.variable[aria-pressed='true'] {
  box-shadow: inset 0 0 0 1.5px var(--line);
}

/* Signs say again what the name of the button says: they are drawn, not read. */
.variable [data-sign]::before {
  content: attr(data-sign);
}

.variable__sign {
  width: 26px;
  flex: none;
  text-align: center;
  font-size: var(--text-small);
  color: var(--accent);
}

.adds {
  display: grid;
  gap: 4px;
  justify-items: start;
  padding: 4px 0 0 8px;
  font-size: var(--text-small);
}

.figures {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
  padding-right: 4px;
}
</style>
