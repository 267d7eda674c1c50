<script setup lang="ts">
/** The selected rows of a figure: excluded, highlighted, labelled, or made into a filter. */
import { computed, ref, watch } from 'vue'
import { Problem } from '@/api/client'
import type { FigureId, TableId } from '@/api/references'
import type { Condition, FigureDocument } from '@/api/types'
import { blankNames } from '@/figure-model/blank'
import { CATEGORIES, toHex } from '@/render/colours'
import { VOCABULARY } from '@/figure-model/vocabulary'
import SidePanel from '@/components/SidePanel.vue'
import { nameOptions } from '@/figure-model/statement/options'
import { useFigure } from '@/stores/figure'
import { useSelection } from '@/stores/selection'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf, grouped } from '@/figure-model/words'
import UiNaming from '@/ui/UiNaming.vue'
import UiNote from '@/ui/UiNote.vue'
import UiAction from '@/ui/UiAction.vue'

/** What is done here is done to this figure and these rows, whichever figure is open by then. */
const props = defineProps<{ figure: FigureId; table: TableId }>()

const figures = useFigure()
const selection = useSelection()
const side = useSide()
const studies = useStudy()

const { highlighted: MOST_HIGHLIGHTED, named: MOST_NAMED } = VOCABULARY.most_rows

const selected = computed(() => selection.rowsIn(props.table))
/** In their order, which takes long for very many: when something is done with them. */
const inOrder = (): number[] => [...Uint32Array.from(selected.value).sort()]
const document = computed(() => figures.documentOf(props.figure))
const aside = computed(() => new Set(document.value?.set_aside))
const allAside = computed(() => {
  for (const row of selected.value) if (!aside.value.has(row)) return false
  return true
})
const problem = ref('')

const edit = (change: (draft: FigureDocument) => void): void => {
  problem.value = ''
  figures.editFigure(props.figure, change)
}

function setAside(): void {
  const isBack = allAside.value
  edit((draft) => {
    const held = new Set(draft.set_aside)
    for (const row of inOrder())
      if (isBack) held.delete(row)
      else held.add(row)
    draft.set_aside = [...held]
  })
}

/** Whether so many rows can be taken; says so where they cannot: nothing is cut off unseen. */
function isWithin(most: number, what: string): boolean {
  if (selected.value.size <= most) return true
  problem.value = `At most ${grouped(most)} rows can be ${what}; ${grouped(selected.value.size)} are selected. Select fewer.`
  return false
}

function singleOut(): void {
  if (!isWithin(MOST_HIGHLIGHTED, 'highlighted')) return
  const chosen = selected.value
  edit((draft) => {
    draft.singled_out = draft.singled_out
      .map((group) => ({ ...group, rows: group.rows.filter((row) => !chosen.has(row)) }))
      .filter((group) => group.rows.length)
    draft.singled_out.push({
      rows: inOrder(),
      // A colour that is in use would say that they are of another category.
      colour: draft.colour ? null : toHex(CATEGORIES[1]),
      shape: null,
      size: 1.4,
      name: null,
    })
  })
}

function name(): void {
  if (!isWithin(MOST_NAMED, 'named')) return
  const variables = studies.tableOf(props.table)?.summary.variables ?? []
  edit((draft) => {
    const first = nameOptions(variables)[0].value ?? draft.x
    draft.names ??= blankNames(first, 'chosen')
    if (draft.names.show === 'all') draft.names.show = 'chosen'
    draft.names.rows = inOrder()
  })
}

/** A name that no variable has yet. */
function freeName(): string {
  const taken = new Set(studies.tableOf(props.table)?.summary.variables.map((one) => one.name))
  let count = 1
  while (taken.has(`selection ${count}`)) count += 1
  return `selection ${count}`
}

/** Keeps rows as a variable, and does something with it. */
async function keep(called: string, rows: number[], then: (name: string) => void): Promise<void> {
  problem.value = ''
  try {
    await studies.keepRows(props.table, called, rows)
    then(called)
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  }
}

/** The rows that are selected alone, or the others alone: of those that are there now. */
function filter(isKept: boolean): void {
  const held = document.value?.rows
  const { figure, table } = props
  // Beside "any of these" there is no place for one more condition: its rows are kept instead.
  const isBeside = !held || held.conditions.length < 2 || held.join === 'and'
  const drawn = figures.id === figure ? figures.drawn?.marks.row : undefined
  const others = [...(drawn ?? [])].filter((row) => !selected.value.has(row))
  const rows = isKept || isBeside ? inOrder() : others
  const test: Condition['test'] = isKept || !isBeside ? 'one_of' : 'not_one_of'
  void keep(freeName(), rows, (variable) => {
    figures.editFigure(figure, (draft) => {
      const condition = { variable, test, values: [variable], low: null, high: null, text: '' }
      const before = isBeside ? (held?.conditions ?? []) : []
      draft.rows = { join: 'and', conditions: [...before, condition] }
    })
    if (selection.selected?.table === table) selection.clear()
  })
}

const said = computed(() => `${countOf(selected.value.size, 'row')} selected`)
const kept = ref('')
watch(selected, () => {
  kept.value = ''
  problem.value = ''
})
</script>

<template>
  <SidePanel :heading="said" label="Selection" data-testid="selection" @close="selection.clear()">
    <div class="actions">
      <UiAction @click="setAside">
        {{ allAside ? 'Bring back' : 'Set aside' }}
      </UiAction>
      <UiAction @click="singleOut">Highlight</UiAction>
      <UiAction @click="name">Label them</UiAction>
      <UiAction @click="side.listed = { table, rows: inOrder(), title: said }">
        Show their rows
      </UiAction>
      <UiAction @click="filter(true)">Keep only these</UiAction>
      <UiAction @click="filter(false)">Filter out</UiAction>
    </div>
    <UiNaming
      label="Name to keep these rows under"
      action="Keep"
      placeholder="Keep them under a name"
      @named="(name) => keep(name, inOrder(), () => (kept = name))"
    />
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiNote v-if="kept" role="status">
      Saved as the variable “{{ kept }}”: use it for colour, a filter, or a trend for each.
    </UiNote>
    <p class="quiet note">
      Rows set aside are drawn hollow and pale and are left out of every fit on this figure. Shift
      adds to a selection, Alt takes away from it.
    </p>
    <UiAction kind="words" @click="selection.clear()">Clear selection</UiAction>
  </SidePanel>
</template>

<style scoped>
.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}

.note {
  font-size: var(--text-small);
  line-height: 1.35;
}
</style>
