<script setup lang="ts">
/** What stands in each place of a plate, and the page that they stand on. */
import { computed } from 'vue'
import { PAPER, toHex } from '@/drawing/colours'
import { useRouter } from 'vue-router'
import { letterOf } from '@/plates/layout'
import { VENUES } from '@/handon/venues'
import { usePlate } from '@/stores/plate'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiColour from '@/ui/UiColour.vue'
import UiPanel from '@/ui/UiPanel.vue'
import UiPlace from '@/ui/UiPlace.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiSlider from '@/ui/UiSlider.vue'
import UiText from '@/ui/UiText.vue'
import { figureName } from '@/kinds'
import VariedField from './VariedField.vue'

const MM = 72 / 25.4

const plate = usePlate()
const studies = useStudy()
const router = useRouter()
const document = computed(() => plate.document!)
const place = computed(() => Math.min(plate.chosen ?? 0, document.value.cells.length - 1))
const cell = computed(() => document.value.cells[place.value])
const shown = computed(
  () => studies.figures.find(({ id }) => id === cell.value.figure)?.document ?? null,
)

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

function setVenue(name: (typeof document.value.page)['venue']): void {
  const venue = VENUES.find((one) => one.venue === name)
  plate.edit((draft) => {
    draft.page.venue = venue?.venue ?? 'own'
    if (!venue) return
    draft.page.width = venue.width
    draft.page.height = venue.height
    draft.text = Number((venue.text * 0.85).toFixed(2))
    draft.ink = Number((venue.ink * 0.85).toFixed(2))
  })
}

const fits = (value: number | null): string =>
  value !== null && value * MM >= 72 && value * MM <= 7200
    ? ''
    : 'A page is between 25.4 and 2,540 mm wide and high.'

const setSide = (side: 'width' | 'height', value: number | null): void =>
  plate.edit((draft) => {
    draft.page[side] = (value ?? 100) * MM
    draft.page.venue = 'own'
  })

const orNull = (text: string): string | null => (text.trim() === '' ? null : text)
const venues = [
  ...VENUES.map(({ venue, label }) => ({ value: venue, label })),
  { value: 'own' as const, label: 'own size' },
]
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
    <UiText
      label="Words beside the letter"
      :model-value="cell.heading ?? plate.panels[place]?.heading ?? ''"
      :maxlength="500"
      placeholder="none"
      @typed="setCell({ heading: $event }, `heading ${place}`)"
    />
    <UiRow>
      <UiAction :disabled="place === 0" @click="shift(-1)">Earlier</UiAction>
      <UiAction :disabled="place === document.cells.length - 1" @click="shift(1)">Later</UiAction>
      <UiAction :disabled="document.cells.length === 1" @click="takeOff">Take off</UiAction>
      <UiAction v-if="shown" kind="words" @click="openFigure">Open the figure</UiAction>
    </UiRow>
    <UiSection heading="Page and words">
      <UiChoice
        label="Venue"
        :model-value="document.page.venue"
        :options="venues"
        @update:model-value="setVenue"
      />
      <UiRow even>
        <UiPlace
          v-for="side in ['width', 'height'] as const"
          :key="side"
          :label="side === 'width' ? 'Width, mm' : 'Height, mm'"
          :model-value="Number((document.page[side] / MM).toFixed(1))"
          :check="fits"
          @update:model-value="setSide(side, $event)"
        />
      </UiRow>
      <UiSlider
        label="Text size of the plate"
        :model-value="Math.round(document.text * 100)"
        :min="30"
        :max="300"
        :step="5"
        :text="`${Math.round(document.text * 100)} %`"
        @update:model-value="plate.edit((draft) => (draft.text = $event / 100), 'text')"
      />
      <UiSlider
        label="Marks and lines"
        :model-value="Math.round(document.ink * 100)"
        :min="30"
        :max="300"
        :step="5"
        :text="`${Math.round(document.ink * 100)} %`"
        @update:model-value="plate.edit((draft) => (draft.ink = $event / 100), 'ink')"
      />
      <UiSlider
        label="Room between figures"
        :model-value="document.gap"
        :min="0"
        :max="60"
        :text="`${document.gap} pt`"
        @update:model-value="plate.edit((draft) => (draft.gap = $event), 'gap')"
      />
      <UiText
        label="Title"
        :model-value="document.title ?? ''"
        :maxlength="500"
        placeholder="No title"
        @typed="plate.edit((draft) => (draft.title = orNull($event)), 'title')"
      />
      <UiText
        label="Caption"
        :lines="3"
        :model-value="document.caption ?? ''"
        :maxlength="4000"
        placeholder="No caption"
        @typed="plate.edit((draft) => (draft.caption = orNull($event)), 'caption')"
      />
      <UiColour
        label="Background"
        :model-value="document.page.background"
        @update:model-value="
          plate.edit((draft) => (draft.page.background = $event ?? toHex(PAPER)), 'background')
        "
      />
    </UiSection>
  </UiPanel>
</template>
