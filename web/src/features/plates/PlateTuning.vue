<script setup lang="ts">
/** What stands in each place of a plate, and the page that they stand on. */
import { asPlain } from '@/render/text/text'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { letterOf } from '@/plates/layout'
import { usePlate } from '@/stores/plate'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiPanel from '@/ui/UiPanel.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import UiSelect from '@/ui/UiSelect.vue'
import { figureName } from '@/kinds'
import ControlField from '@/components/ControlField.vue'
import {
  headingControl,
  PAGE_OF_PLATE,
  SIDES_OF_PLATE,
  VENUE_OF_PLATE,
  type PlateScope,
} from '@/plates/controls'
import VariedField from './VariedField.vue'

const plate = usePlate()
const studies = useStudy()
const router = useRouter()
const document = computed(() => plate.document!)
const place = computed(() => Math.min(plate.chosen ?? 0, document.value.cells.length - 1))
const cell = computed(() => document.value.cells[place.value])
const shown = computed(
  () => studies.figures.find(({ id }) => id === cell.value.figure)?.document ?? null,
)

const scope = computed((): PlateScope => ({
  document: document.value,
  headings: plate.panels.map(({ heading }) => asPlain(heading)),
}))

const nameOf = (i: number): string =>
  letterOf(i, document.value.letters === 'none' ? 'a' : document.value.letters)

const setCell = (change: Partial<typeof cell.value>, what = ''): void =>
  plate.edit((draft) => void Object.assign(draft.cells[place.value], change), what)

function shift(by: -1 | 1): void {
  const [from, to] = [place.value, place.value + by]
  plate.edit((draft) => {
    const [moved] = draft.cells.splice(from, 1)
    draft.cells.splice(to, 0, moved)
  })
  plate.chosen = to
}

function takeOff(): void {
  plate.edit((draft) => {
    draft.cells.splice(place.value, 1)
    draft.heights = []
    draft.columns = Math.min(draft.columns, draft.cells.length)
    draft.widths = draft.widths.length === draft.columns ? draft.widths : []
  })
}

const figures = computed(() => [
  ...(shown.value ? [] : [{ value: cell.value.figure, label: '(deleted)' }]),
  ...studies.figures.map(({ id, document: one }) => ({
    value: id,
    label: figureName(one, studies.variableOf),
  })),
])
const openFigure = () =>
  router.push({
    name: 'study',
    params: { studyId: studies.study!.id, figureId: cell.value.figure },
  })
</script>

<template>
  <UiPanel heading="Plate">
    <UiRow label="Places of the plate">
      <UiAction
        v-for="(_, i) in document.cells"
        :key="i"
        :pressed="i === place"
        @click="plate.chosen = i"
      >
        {{ nameOf(i) }}
      </UiAction>
    </UiRow>
    <UiSelect
      :label="`Figure at ${nameOf(place)}`"
      :model-value="cell.figure"
      :options="figures"
      @update:model-value="setCell({ figure: $event, varied: null })"
    />
    <VariedField
      v-if="shown"
      :document="shown"
      :varied="cell.varied"
      @set="setCell({ varied: $event, heading: null })"
    />
    <ControlField :control="headingControl(place)" :scope="scope" @edit="plate.edit" />
    <UiRow>
      <UiAction :disabled="place === 0" @click="shift(-1)">Earlier</UiAction>
      <UiAction :disabled="place === document.cells.length - 1" @click="shift(1)">Later</UiAction>
      <UiAction :disabled="document.cells.length === 1" @click="takeOff">Remove</UiAction>
      <UiAction v-if="shown" kind="words" @click="openFigure">Open the figure</UiAction>
    </UiRow>
    <UiSection heading="Page and words">
      <ControlField :control="VENUE_OF_PLATE" :scope="scope" @edit="plate.edit" />
      <UiRow even>
        <ControlField
          v-for="control in SIDES_OF_PLATE"
          :key="control.label"
          :control="control"
          :scope="scope"
          @edit="plate.edit"
        />
      </UiRow>
      <ControlField
        v-for="control in PAGE_OF_PLATE"
        :key="control.label"
        :control="control"
        :scope="scope"
        @edit="plate.edit"
      />
    </UiSection>
  </UiPanel>
</template>
