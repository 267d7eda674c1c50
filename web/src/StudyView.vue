<script setup lang="ts">
/** A study: ledger on the left, statement and figure in the middle, readings on the right. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { client, Problem, take } from '@/api/client'
import type { Figure, Plate, TableTaken } from '@/api/types'
import type { Tool } from '@/figure/dragging'
import FigureView from '@/figure/FigureView.vue'
import SelectionPanel from '@/figure/SelectionPanel.vue'
import MatrixView from '@/figure/MatrixView.vue'
import HandOn from '@/handon/HandOn.vue'
import SharePanel from '@/handon/SharePanel.vue'
import Ledger from '@/ledger/Ledger.vue'
import ReadIn from '@/readin/ReadIn.vue'
import CompareForms from '@/readings/CompareForms.vue'
import MatrixReadings from '@/readings/MatrixReadings.vue'
import Pairs from '@/readings/Pairs.vue'
import Readings from '@/readings/Readings.vue'
import Residuals from '@/readings/Residuals.vue'
import NewPlate from '@/plates/NewPlate.vue'
import PlateStatement from '@/plates/PlateStatement.vue'
import PlateTuning from '@/plates/PlateTuning.vue'
import PlateView from '@/plates/PlateView.vue'
import RowsGrid from '@/rows/RowsGrid.vue'
import Statement from '@/statement/Statement.vue'
import { useFigure } from '@/stores/figure'
import DerivePanel from '@/ledger/DerivePanel.vue'
import TablePanel from '@/ledger/TablePanel.vue'
import VariablePanel from '@/ledger/VariablePanel.vue'
import { useHistory } from '@/stores/history'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { useUndo } from '@/stores/undo'
import { isTyping } from '@/held'
import Tuning from '@/tuning/Tuning.vue'
import { countOf } from '@/model/words'
import { figureName } from '@/kinds'
import { plateName } from '@/plates/names'

const props = defineProps<{ studyId: string; figureId?: string; plateId?: string }>()

const router = useRouter()
const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
type PairView = InstanceType<typeof FigureView>
const view = useTemplateRef<PairView | InstanceType<typeof MatrixView>>('view')
const tool = ref<Tool>('point')
const TOOLS: { tool: Tool; label: string }[] = [
  { tool: 'point', label: 'Point' },
  { tool: 'box', label: 'Box' },
  { tool: 'rope', label: 'Rope' },
  { tool: 'move', label: 'Move' },
]
const history = useHistory()
/** A file on its way in; `again` where it takes the place of a table's rows. */
const file = shallowRef<{ file: File; again: string | null } | null>(null)
const dropping = ref(false)
const problem = shallowRef<Problem | null>(null)
const notice = ref('')
const listedTable = computed(() =>
  side.listed?.rows && figure.document ? figure.document.table : studies.openTable,
)

const isMatrix = computed(
  () => (figure.drawn?.document ?? figure.document)?.kind === 'scatterplot matrix',
)
/** What only a figure of one pair can do: zoom, and say what its axes leave out. */
const pairView = computed<PairView | null>(() =>
  isMatrix.value ? null : (view.value as PairView | null),
)
const counts = computed(() => figure.drawn?.answer.counts ?? null)
/** The variable that is looked at, as it is now. */
const openVariable = computed(() => {
  const { shown } = side
  if (shown.kind !== 'variable') return null
  return studies.table?.summary.variables.find(({ name }) => name === shown.name) ?? null
})
const heading = computed(() =>
  plate.document
    ? plateName(plate.document, studies.figures, studies.variableOf)
    : figure.document
      ? figureName(figure.document, studies.variableOf)
      : studies.study?.name,
)

watch(heading, (text) => (document.title = text ? `${text} · Yarrowdew` : 'Yarrowdew'))

let loaded = false

async function load(): Promise<void> {
  try {
    // A study that is come back to may have been renamed or changed elsewhere.
    if (studies.study?.id !== props.studyId || !loaded) {
      if (!(await studies.load(props.studyId))) return
      loaded = true
    }
    const plated = studies.plates.find(({ id }) => id === props.plateId)
    if (plated) {
      figure.close()
      if (side.shown.kind !== 'hand-on') side.rest()
      if (plate.id !== plated.id) await plate.open(plated)
      problem.value = null
      return
    }
    if (plate.id) plate.close()
    const wanted =
      studies.figures.find(({ id }) => id === props.figureId) ?? studies.figures.at(0) ?? null
    if (!wanted) figure.close()
    else if (figure.id !== wanted.id) await figure.open(wanted)
    problem.value = null
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error
  }
}

watch(() => [props.studyId, props.figureId, props.plateId], load, { immediate: true })

function open(id: string): void {
  if (side.listed?.rows) side.listed = null
  void router.push({ name: 'study', params: { studyId: props.studyId, figureId: id } })
}

function openPlate(id: string): void {
  void router.push({ name: 'plate', params: { studyId: props.studyId, plateId: id } })
}

const { undo, redo } = useUndo(
  async (kind, id) => {
    const { studyId } = props
    await router.push(
      kind === 'plate'
        ? { name: 'plate', params: { studyId, plateId: id } }
        : { name: 'study', params: { studyId, figureId: id } },
    )
    await load()
  },
  (sentence) => (notice.value = sentence),
)

async function taken(made: TableTaken): Promise<void> {
  file.value = null
  await studies.added(made)
  notice.value = made.problem ?? ''
  side.rest()
  if (made.figure) open(made.figure.id)
}

function read(chosen: File, again: string | null = null): void {
  file.value = null
  // A second file replaces the first: its screen is made anew.
  requestAnimationFrame(() => (file.value = { file: chosen, again }))
}

function readAgain(said: string): void {
  file.value = null
  notice.value = said
}

/** A table to be typed into, with its rows open. */
async function typeTable(): Promise<void> {
  await taken(await studies.typeTable('typed rows'))
  side.listed = { rows: null, title: 'Rows' }
}

function dropped(event: DragEvent): void {
  dropping.value = false
  const found = event.dataTransfer?.files[0]
  if (found) read(found)
}

function dragged(event: DragEvent): void {
  if (event.dataTransfer?.types.includes('Files')) dropping.value = true
}

async function settle(keepOurs: boolean): Promise<void> {
  const theirs = await take<Figure>(
    client.GET('/api/figures/{figure_id}', { params: { path: { figure_id: figure.id! } } }),
  )
  await figure.settle(keepOurs, theirs)
}

async function settlePlate(): Promise<void> {
  const theirs = await take<Plate>(
    client.GET('/api/plates/{plate_id}', { params: { path: { plate_id: plate.id! } } }),
  )
  await plate.insist(theirs.revision)
}

function renamed(event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name && name !== studies.study?.name) void studies.rename(name)
}

/** Deletes the figure or the plate that is open. */
async function deleteOpen(): Promise<void> {
  const [figureId, plateId] = [figure.id, plate.id]
  if (plateId) {
    plate.close()
    await studies.deletePlate(plateId)
  } else if (figureId) {
    await figure.flush()
    const { revision } = studies.figures.find(({ id }) => id === figureId) ?? {}
    figure.close()
    await studies.deleteFigure(figureId, revision)
  } else return
  const next = studies.figures.at(0)
  await router.replace({ name: 'study', params: { studyId: props.studyId, figureId: next?.id } })
  await load()
}

function key(event: KeyboardEvent): void {
  const typing = isTyping(event.target)
  if (event.defaultPrevented) return
  if (event.key === 'Escape') {
    if (side.selected.size) side.select([])
    else side.rest()
    side.listed = null
  } else if (event.key === 'm' && !typing && !event.ctrlKey && !event.metaKey && !event.altKey) {
    // The way back from one of its pairs.
    if (figure.document?.matrix && !isMatrix.value)
      figure.edit((draft) => (draft.kind = 'scatterplot matrix'))
  } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'z' && !typing) {
    event.preventDefault()
    if (event.shiftKey) void redo()
    else void undo()
  }
}

function derived(name: string | null): void {
  if (name) side.show({ kind: 'variable', name })
  else side.rest()
}

/** Text on its way from a spreadsheet or a document is read in like a file. */
function pasted(event: ClipboardEvent): void {
  if (isTyping(event.target)) return
  const found = event.clipboardData?.files[0]
  const text = event.clipboardData?.getData('text/plain') ?? ''
  if (found) read(found)
  else if (text.trim().includes('\n')) read(new File([text], 'pasted rows.txt'))
  else return
  event.preventDefault()
}

/** A note starts in the upper middle of the page, and is dragged from there. */
function addNote(): void {
  const place = figure.document!.notes.length
  figure.edit((draft) =>
    draft.notes.push({ text: 'Note', anchor: 'page', x: 0.45, y: 0.12, points_to: null }),
  )
  side.tune(`note-${place}`)
}

function showAside(): void {
  side.listed = { rows: figure.drawn!.document.set_aside, title: 'Rows set aside' }
}

onMounted(() => {
  window.addEventListener('keydown', key)
  window.addEventListener('paste', pasted)
  window.addEventListener('pagehide', figure.leave)
  window.addEventListener('pagehide', plate.leave)
})
onBeforeUnmount(() => {
  window.removeEventListener('keydown', key)
  window.removeEventListener('paste', pasted)
  window.removeEventListener('pagehide', figure.leave)
  window.removeEventListener('pagehide', plate.leave)
  figure.close()
  plate.close()
})
</script>

<template>
  <div
    class="study"
    @dragenter.prevent="dragged"
    @dragover.prevent="dragged"
    @drop.prevent="dropped"
  >
    <header class="bar">
      <router-link :to="{ name: 'studies' }" class="bar__name">Yarrowdew</router-link>
      <input
        v-if="studies.study"
        v-held="studies.study.name"
        class="bar__study"
        :size="Math.max(8, studies.study.name.length)"
        maxlength="200"
        aria-label="Name of the study"
        @change="renamed"
      />
      <span class="bar__saved" role="status">
        <template v-if="figure.saving === 'refused' || plate.saving === 'refused'"
          >Not saved: {{ figure.refusal || plate.refusal }}</template
        >
        <template v-else-if="figure.saving === 'failed' || plate.saving === 'failed'"
          >Not saved yet; trying again</template
        >
        <template
          v-else-if="figure.saving === 'saving' || plate.saving === 'saving' || studies.writing"
          >Saving …</template
        >
      </span>
      <v-btn :disabled="!history.canUndo" title="Undo (Ctrl+Z)" @click="undo">Undo</v-btn>
      <v-btn :disabled="!history.canRedo" title="Redo (Ctrl+Shift+Z)" @click="redo">Redo</v-btn>
      <v-btn
        color="primary"
        variant="flat"
        :disabled="!figure.drawn && !plate.document"
        :aria-expanded="side.shown.kind === 'hand-on'"
        @click="side.toggle({ kind: 'hand-on' })"
      >
        Hand on
      </v-btn>
    </header>
    <Ledger
      class="study__ledger"
      @open="open"
      @file="read"
      @type="typeTable"
      @plate="openPlate"
      @delete="deleteOpen"
    />
    <ReadIn
      v-if="file"
      class="study__wide"
      :file="file.file"
      :again="file.again"
      @taken="taken"
      @replaced="readAgain"
      @left="file = null"
    />
    <main v-else class="study__middle">
      <div v-if="problem" class="card study__problem" role="alert">
        <strong>{{ problem.message }}</strong>
        <p>{{ problem.detail }}</p>
        <router-link :to="{ name: 'studies' }" class="link">All studies</router-link>
      </div>
      <template v-else-if="plate.document">
        <PlateStatement />
        <div v-if="plate.saving === 'outdated'" class="card study__problem" role="alert">
          This plate was saved elsewhere in the meantime.
          <button type="button" class="link link--caution" @click="settlePlate">
            Keep what is here
          </button>
        </div>
        <PlateView />
      </template>
      <template v-else-if="figure.document">
        <Statement />
        <div v-if="figure.problem" class="card study__problem" role="alert">
          <strong>{{ figure.problem.message }}</strong> {{ figure.problem.detail }}
          <button type="button" class="link link--caution" @click="figure.refresh">
            Try again
          </button>
        </div>
        <div v-if="figure.saving === 'outdated'" class="card study__problem" role="alert">
          This figure was saved elsewhere in the meantime.
          <button type="button" class="link link--caution" @click="settle(false)">
            Show what was saved there
          </button>
          ·
          <button type="button" class="link link--caution" @click="settle(true)">
            Keep what is here
          </button>
        </div>
        <p v-if="notice" class="card study__notice" role="status">
          {{ notice }}
          <button type="button" class="link" @click="notice = ''">Close</button>
        </p>
        <component :is="isMatrix ? MatrixView : FigureView" ref="view" v-model:tool="tool">
          <footer v-if="counts" class="foot">
            <p class="foot__counts" data-testid="counts">
              {{ countOf(counts.drawn, 'mark') }} drawn<template v-if="counts.filtered">
                · {{ counts.filtered }} left out by the rows chosen</template
              ><template v-if="counts.set_aside">
                ·
                <button type="button" class="link" @click="showAside">
                  {{ counts.set_aside }} set aside
                </button></template
              ><template v-for="part in counts.not_drawn" :key="part.reason">
                ·
                <button
                  type="button"
                  class="link"
                  @click="
                    side.listed = {
                      rows: part.rows,
                      title: `${countOf(part.count, 'row')} ${part.reason}`,
                    }
                  "
                >
                  {{ part.count }} {{ part.reason }}
                </button> </template
              ><template v-if="pairView?.off">
                · {{ pairView.off }} that this scale has no place for</template
              >
            </p>
            <div class="tools" role="toolbar" aria-label="Tools on the figure">
              <button
                type="button"
                class="tool"
                :aria-pressed="side.listed !== null"
                @click="side.listed = side.listed ? null : { rows: null, title: 'Rows' }"
              >
                Rows
              </button>
              <button
                v-for="one in TOOLS"
                :key="one.tool"
                type="button"
                class="tool"
                :aria-pressed="tool === one.tool"
                @click="tool = one.tool"
              >
                {{ one.label }}
              </button>
              <button type="button" class="tool" @click="addNote">+ note</button>
              <button type="button" class="tool" aria-label="Zoom out" @click="pairView?.zoomOut()">
                −
              </button>
              <button type="button" class="tool" aria-label="Zoom in" @click="pairView?.zoomIn()">
                +
              </button>
              <button
                type="button"
                class="tool"
                :disabled="!pairView || pairView.isHome"
                @click="pairView?.fit()"
              >
                Fit to data
              </button>
            </div>
          </footer>
        </component>
      </template>
      <div v-else-if="studies.study" class="card study__begin">
        <h1>{{ studies.tables.length ? 'No figure yet' : 'Bring data in' }}</h1>
        <p v-if="notice">{{ notice }}</p>
        <p v-else-if="studies.tables.length">Add a figure in the ledger, with +.</p>
        <p v-else>
          Drop a file anywhere on this page, paste rows from a spreadsheet, or choose “Read in a
          file” on the left: delimited text, a workbook, Parquet, Arrow, JSON or a data package. You
          will see how it is read before it counts. Or type a small table yourself.
        </p>
      </div>
      <Residuals
        v-if="side.residuals !== null && !side.listed && figure.document?.trends[side.residuals]"
        :trend="side.residuals"
        @close="side.residuals = null"
      />
      <RowsGrid
        v-if="side.listed && listedTable"
        :key="listedTable"
        :table="listedTable"
        :rows="side.listed.rows"
        :title="side.listed.title"
        @close="side.listed = null"
      />
    </main>
    <aside v-if="!file" class="study__right" aria-label="Readings and tuning">
      <DerivePanel v-if="side.shown.kind === 'derive' && studies.table" @done="derived" />
      <TablePanel
        v-else-if="side.shown.kind === 'table' && studies.table"
        :key="studies.table.id"
        :table="studies.table"
        @again="(chosen) => read(chosen, studies.table!.id)"
        @taken="taken"
      />
      <VariablePanel v-else-if="openVariable" :key="openVariable.name" :variable="openVariable" />
      <SelectionPanel v-else-if="side.shown.kind === 'selection' && figure.drawn" />
      <CompareForms
        v-else-if="side.shown.kind === 'compare' && figure.document?.trends[side.shown.trend]"
        :trend="side.shown.trend"
        :group="side.shown.group"
      />
      <NewPlate v-else-if="side.shown.kind === 'new-plate'" @made="openPlate" />
      <HandOn v-else-if="side.shown.kind === 'hand-on' && (figure.drawn || plate.document)" />
      <SharePanel v-else-if="side.shown.kind === 'share' && (figure.drawn || plate.document)" />
      <PlateTuning v-else-if="plate.document" />
      <Tuning v-else-if="side.shown.kind === 'tuning' && figure.drawn" :part="side.shown.part" />
      <Pairs v-else-if="side.shown.kind === 'pairs'" />
      <MatrixReadings v-else-if="isMatrix" />
      <Readings
        v-else-if="figure.document"
        @rows="(rows, title) => (side.listed = { rows, title })"
        @file="(made) => read(made)"
      />
    </aside>
    <div v-if="dropping" class="drop" @dragleave="dropping = false">
      Drop the file to read it in
    </div>
  </div>
</template>

<style scoped>
.study {
  display: grid;
  grid-template: 44px minmax(0, 1fr) / 232px minmax(0, 1fr) 304px;
  height: 100vh;
  color: var(--ink);
}

.bar {
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 0 8px 0 16px;
  background: var(--raised);
  border-bottom: 1px solid var(--line);
}

.bar__name {
  font-size: 18px;
  font-weight: 700;
  color: var(--accent);
  text-decoration: none;
}

.bar__study {
  font: inherit;
  color: var(--soft-ink);
  padding: 2px 6px;
  margin-left: 4px;
  border-radius: 4px;
  border: 1px solid transparent;
  text-overflow: ellipsis;
}

.bar__study:hover {
  border-color: var(--line);
}

.bar__saved {
  flex: 1;
  font-size: 13.5px;
  color: var(--soft-ink);
}

.bar .v-btn {
  height: 30px;
  padding: 0 13px;
}

.study__wide {
  grid-column: 2 / -1;
}

.study__middle {
  display: flex;
  flex-direction: column;
  gap: 8px;
  padding: 10px 4px 8px;
  min-width: 0;
  min-height: 0;
}

.study__right {
  overflow: auto;
  padding: 12px 8px 12px 8px;
  scrollbar-width: thin;
}

.study__problem {
  color: var(--caution);
  background: var(--caution-ground);
  box-shadow: none;
  padding: 8px 12px;
}

.study__notice {
  padding: 6px 12px;
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

.study__begin {
  margin: 12vh auto 0;
  max-width: 480px;
  display: grid;
  gap: 8px;
}

.study__begin h1 {
  font-size: 19px;
  font-weight: 600;
}

.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  font-size: 14px;
  line-height: 1.3;
  color: var(--soft-ink);
  padding: 8px 4px 0;
}

.tools {
  display: flex;
  gap: 2px;
  white-space: nowrap;
}

.tool {
  padding: 3px 8px;
  border-radius: 6px;
  color: var(--soft-ink);
  cursor: pointer;
}

.tool:hover:not(:disabled) {
  color: var(--accent);
}

.tool[aria-pressed='true'] {
  background: var(--chosen);
  color: var(--accent);
}

.tool:disabled {
  opacity: 0.5;
  cursor: default;
}

.drop {
  position: fixed;
  inset: 8px;
  z-index: 100;
  display: grid;
  place-items: center;
  border: 2px dashed var(--accent);
  border-radius: 6px;
  background: color-mix(in srgb, var(--ground) 88%, transparent);
  font-size: 22px;
  font-weight: 600;
  color: var(--accent);
}
</style>
