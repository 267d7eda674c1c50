<script setup lang="ts">
/** The words round the figure, its text size, its page. */
import { computed, ref } from 'vue'
import type { SavedLook } from '@/api/types'
import { captionOf } from '@/kinds/caption'
import { UNITS } from '@/figure-model/venues'
import { PAPER, toHex } from '@/render/colours'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiField from '@/ui/UiField.vue'
import UiNaming from '@/ui/UiNaming.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import Controls from './Controls.vue'
import { PAGE, pageSides, TEXT_SIZE, VENUE, WORDS } from '@/figure-model/controls/words'
import Lettering from './Lettering.vue'
import { lookOf, putOn } from '@/figure-model/looks'

type Unit = keyof typeof UNITS

const figure = useFigure()
const studies = useStudy()
const document = computed(() => figure.document!)
const looks = computed(() => studies.study?.looks ?? [])
const unit = ref<Unit>('mm')
const units = Object.keys(UNITS).map((name) => ({ value: name as Unit, label: name }))

function draftCaption(): void {
  if (!figure.drawn) return
  const text = captionOf(document.value, figure.drawn.answer, studies.variableOf)
  figure.edit((draft) => {
    draft.caption = text
  })
}

const save = (name: string) =>
  void studies.save({ of: 'look', value: { name, ...lookOf(document.value) } })
const use = (look: SavedLook): void => figure.edit((draft) => putOn(draft, look))
</script>

<template>
  <Controls :of="WORDS" />
  <UiAction kind="words" @click="draftCaption">Draft the caption from the readings</UiAction>
  <Controls :of="[VENUE]" />
  <UiRow v-if="document.page.venue === 'own'" even>
    <Controls :of="pageSides(unit)" />
    <UiSelect v-model="unit" label="In" spoken="Unit of the page" :options="units" />
  </UiRow>
  <Controls :of="[TEXT_SIZE]" />
  <Lettering part="title" />
  <Lettering part="subtitle" />
  <Lettering part="caption" />
  <Controls :of="PAGE" />
  <UiAction kind="words" @click="figure.edit((draft) => (draft.page.background = toHex(PAPER)))">
    White paper
  </UiAction>
  <UiField label="Looks of the study" role="group" aria-label="Looks">
    <UiRow v-for="look in looks" :key="look.name">
      <UiAction @click="use(look)">{{ look.name }}</UiAction>
      <UiAction
        kind="words"
        :label="`Delete the saved look ${look.name}`"
        @click="studies.forgetSaved({ of: 'look', value: look })"
      >
        ×
      </UiAction>
    </UiRow>
    <UiNaming label="Name to save this look under" action="Save this look" @named="save" />
  </UiField>
</template>
