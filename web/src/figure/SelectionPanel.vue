<script setup lang="ts">
/** The selected points: looked at, set aside, singled out, named, or made into a filter. */
import { computed, ref, watch } from 'vue'
import { Problem } from '@/api/client'
import type { Condition } from '@/api/types'
import { blankNames } from '@/api/blank'
import { CATEGORIES, toHex } from '@/drawing/colours'
import SidePanel from '@/study/SidePanel.vue'
import { nameOptions } from '@/statement/options'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf } from '@/model/words'
import UiNaming from '@/ui/UiNaming.vue'
import UiNote from '@/ui/UiNote.vue'
import UiAction from '@/ui/UiAction.vue'

const figure = useFigure()
const side = useSide()
const studies = useStudy()
/** In their order, which takes long for very many: when something is done with them. */
const inOrder = (): number[] => [...Uint32Array.from(side.selected).sort()]
const aside = computed(() => new Set(figure.document!.set_aside))
const allAside = computed(() => {
  for (const row of side.selected) if (!aside.value.has(row)) return false
  return true
})

function setAside(): void {
  figure.edit((draft) => {
    const held = new Set(draft.set_aside)
    for (const row of inOrder())
      if (allAside.value) held.delete(row)
      else held.add(row)
    draft.set_aside = [...held]
  })
}

function singleOut(): void {
  figure.edit((draft) => {
    const chosen = side.selected
    draft.singled_out = draft.singled_out
      .map((group) => ({ ...group, rows: group.rows.filter((row) => !chosen.has(row)) }))
      .filter((group) => group.rows.length)
    draft.singled_out.push({
      rows: inOrder().slice(0, 10_000),
      colour: toHex(CATEGORIES[1]),
      shape: null,
      size: 1.4,
      name: null,
    })
  })
}

function name(): void {
  const variables = studies.tableOf(figure.document!.table)?.summary.variables ?? []
  const first = nameOptions(variables)[0].value ?? figure.document!.x
  figure.edit((draft) => {
    draft.names ??= blankNames(first, 'chosen')
    draft.names.show = 'chosen'
    draft.names.rows = inOrder().slice(0, 2000)
  })
}

/** A name that no variable has yet. */
function freeName(): string {
  const taken = new Set(
    studies.tableOf(figure.document!.table)?.summary.variables.map((one) => one.name),
  )
  let count = 1
  while (taken.has(`selection ${count}`)) count += 1
  return `selection ${count}`
}

const problem = ref('')

/** Keeps rows as a variable, and does something with it. */
async function keep(called: string, rows: number[], then: (name: string) => void): Promise<void> {
  problem.value = ''
  try {
    await studies.keepRows(figure.document!.table, called, rows)
    then(called)
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  }
}

/** The rows that are selected alone, or the others alone: of those that are there now. */
function filter(isKept: boolean): void {
  const held = figure.document!.rows
  // Beside "any of these" there is no place for one more condition: its rows are kept instead.
  const isBeside = !held || held.conditions.length < 2 || held.join === 'and'
  const others = [...(figure.drawn?.marks.row ?? [])].filter((row) => !side.selected.has(row))
  const rows = isKept || isBeside ? inOrder() : others
  const test: Condition['test'] = isKept || !isBeside ? 'one_of' : 'not_one_of'
  void keep(freeName(), rows, (variable) => {
    figure.edit((draft) => {
      const condition = { variable, test, values: [variable], low: null, high: null, text: '' }
      const before = isBeside ? (held?.conditions ?? []) : []
      draft.rows = { join: 'and', conditions: [...before, condition] }
    })
    side.select([])
  })
}

const said = computed(() => `${countOf(side.selected.size, 'row')} selected`)
const kept = ref('')
watch(
  () => side.selected,
  () => (kept.value = ''),
)
</script>

<template>
  <SidePanel :heading="said" label="Selection" data-testid="selection" @close="side.select([])">
    <div class="actions">
      <UiAction @click="setAside">
        {{ allAside ? 'Bring back' : 'Set aside' }}
      </UiAction>
      <UiAction @click="singleOut">Single out</UiAction>
      <UiAction @click="name">Name them</UiAction>
      <UiAction @click="side.listed = { rows: inOrder(), title: said }"> Show their rows </UiAction>
      <UiAction @click="filter(true)">Show only them</UiAction>
      <UiAction @click="filter(false)">Leave them out</UiAction>
    </div>
    <UiNaming
      label="Name to keep these rows under"
      action="Keep"
      placeholder="Keep them under a name"
      @named="(name) => keep(name, inOrder(), () => (kept = name))"
    />
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiNote v-if="kept" role="status">
      Kept as the variable “{{ kept }}”: it can colour the marks, choose rows, or part the trends.
    </UiNote>
    <p class="quiet note">
      Rows set aside are drawn hollow and pale and are left out of every fit on this figure. Shift
      adds to a selection, Alt takes away from it.
    </p>
    <UiAction kind="words" @click="side.select([])">Select nothing</UiAction>
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
