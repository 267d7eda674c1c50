<script setup lang="ts">
/** What stands in each place of a plate, and the page that they stand on. */
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { letterOf } from '@/plates/layout'
import { VENUES } from '@/handon/venues'
import { usePlate } from '@/stores/plate'
import { useStudy } from '@/stores/study'
import Choice from '@/tuning/Choice.vue'
import ColourField from '@/tuning/ColourField.vue'
import Folded from '@/tuning/Folded.vue'
import NumberField from '@/tuning/NumberField.vue'
import Slider from '@/tuning/Slider.vue'
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

const textOf = (event: Event): string | null =>
  (event.target as HTMLInputElement).value.trim() === ''
    ? null
    : (event.target as HTMLInputElement).value
</script>

<template>
  <section class="card panel" aria-label="Plate">
    <h2 class="panel__title">Plate</h2>
    <div class="places" role="group" aria-label="Places of the plate">
      <button
        v-for="(_, i) in document.cells"
        :key="i"
        type="button"
        class="choice"
        :aria-pressed="i === place"
        @click="plate.chosen = i"
      >
        {{ nameOf(i) }}
      </button>
    </div>
    <label class="field">
      Figure at {{ nameOf(place) }}
      <select
        :value="cell.figure"
        @change="setCell({ figure: ($event.target as HTMLSelectElement).value, varied: null })"
      >
        <option v-if="!shown" :value="cell.figure">(deleted)</option>
        <option v-for="one in studies.figures" :key="one.id" :value="one.id">
          {{ figureName(one.document, studies.variableOf) }}
        </option>
      </select>
    </label>
    <VariedField
      v-if="shown"
      :document="shown"
      :varied="cell.varied"
      @set="setCell({ varied: $event, heading: null })"
    />
    <label class="field">
      Words beside the letter
      <input
        v-held="cell.heading ?? plate.panels[place]?.heading ?? ''"
        maxlength="500"
        placeholder="none"
        @input="setCell({ heading: ($event.target as HTMLInputElement).value }, `heading ${place}`)"
      />
    </label>
    <div class="places">
      <button type="button" class="choice" :disabled="place === 0" @click="shift(-1)">
        Earlier
      </button>
      <button
        type="button"
        class="choice"
        :disabled="place === document.cells.length - 1"
        @click="shift(1)"
      >
        Later
      </button>
      <button type="button" class="choice" :disabled="document.cells.length === 1" @click="takeOff">
        Take off
      </button>
      <button
        v-if="shown"
        type="button"
        class="link"
        @click="
          router.push({
            name: 'study',
            params: { studyId: studies.study!.id, figureId: cell.figure },
          })
        "
      >
        Open the figure
      </button>
    </div>
    <Folded heading="Page and words">
      <Choice
        label="Venue"
        :value="document.page.venue"
        :options="[
          ...VENUES.map(({ venue, label }) => ({ value: venue, label })),
          { value: 'own', label: 'own size' },
        ]"
        @set="setVenue"
      />
      <div class="panel__two">
        <NumberField
          v-for="side in ['width', 'height'] as const"
          :key="side"
          :label="side === 'width' ? 'Width, mm' : 'Height, mm'"
          :value="Number((document.page[side] / MM).toFixed(1))"
          :check="fits"
          @set="setSide(side, $event)"
        />
      </div>
      <Slider
        label="Text size of the plate"
        :value="Math.round(document.text * 100)"
        :min="30"
        :max="300"
        :step="5"
        :text="`${Math.round(document.text * 100)} %`"
        @set="plate.edit((draft) => (draft.text = $event / 100), 'text')"
      />
      <Slider
        label="Marks and lines"
        :value="Math.round(document.ink * 100)"
        :min="30"
        :max="300"
        :step="5"
        :text="`${Math.round(document.ink * 100)} %`"
        @set="plate.edit((draft) => (draft.ink = $event / 100), 'ink')"
      />
      <Slider
        label="Room between figures"
        :value="document.gap"
        :min="0"
        :max="60"
        :text="`${document.gap} pt`"
        @set="plate.edit((draft) => (draft.gap = $event), 'gap')"
      />
      <label class="field">
        Title
        <input
          v-held="document.title ?? ''"
          maxlength="500"
          placeholder="No title"
          @input="plate.edit((draft) => (draft.title = textOf($event)), 'title')"
        />
      </label>
      <label class="field">
        Caption
        <textarea
          v-held="document.caption ?? ''"
          rows="3"
          maxlength="4000"
          placeholder="No caption"
          @input="plate.edit((draft) => (draft.caption = textOf($event)), 'caption')"
        ></textarea>
      </label>
      <ColourField
        label="Background"
        :value="document.page.background"
        @set="plate.edit((draft) => (draft.page.background = $event ?? '#ffffff'), 'background')"
      />
    </Folded>
  </section>
</template>

<style scoped>
.panel {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 12px;
}

.panel__title {
  font-size: 16px;
  font-weight: 600;
}

.places {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}

.places .link {
  margin-left: 6px;
  font-size: 14px;
}

.choice:disabled {
  opacity: 0.5;
  cursor: default;
}

.panel textarea {
  font: inherit;
  font-size: 15px;
  color: var(--ink);
  background: var(--raised);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 5px 8px;
  resize: vertical;
}
</style>
