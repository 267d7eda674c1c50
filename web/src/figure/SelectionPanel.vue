<script setup lang="ts">
/** The selected points: looked at, set aside, singled out, named, or made into a filter. */
import { computed } from 'vue'
import { blankNames } from '@/api/blank'
import { CATEGORIES, toHex } from '@/drawing/colours'
import SidePanel from '@/study/SidePanel.vue'
import { nameOptions } from '@/statement/options'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { countOf } from '@/model/words'
import UiAction from '@/ui/UiAction.vue'

const figure = useFigure()
const side = useSide()
const studies = useStudy()
/** In their order, which takes long for very many: when something is done with them. */
const inOrder = (): number[] => [...Uint32Array.from(side.selected).sort()]
const said = computed(() => `${countOf(side.selected.size, 'row')} selected`)
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
    </div>
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
