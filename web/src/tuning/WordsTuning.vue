<script setup lang="ts">
/** The words round the figure, its text size, its page. */
import { computed, ref } from 'vue'
import type { FigureDocument, SavedLook } from '@/api/types'
import { captionOf } from '@/handon/caption'
import { showAt, UNITS, VENUES } from '@/handon/venues'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import Choice from './Choice.vue'
import ColourField from './ColourField.vue'
import Lettering from './Lettering.vue'
import { lookOf, putOn } from './looks'
import NumberField from './NumberField.vue'
import Slider from './Slider.vue'

const PARTS = [
  { part: 'title', label: 'Title', none: 'No title' },
  { part: 'subtitle', label: 'Subtitle', none: 'No subtitle' },
  { part: 'caption', label: 'Caption', none: 'No caption' },
] as const

const figure = useFigure()
const studies = useStudy()
const document = computed(() => figure.document!)

function set(part: (typeof PARTS)[number]['part'], event: Event): void {
  const text = (event.target as HTMLInputElement).value
  figure.edit((draft) => {
    draft[part] = text.trim() === '' ? null : text
  }, part)
}

const unit = ref<keyof typeof UNITS>('mm')

function setVenue(name: FigureDocument['page']['venue']): void {
  const venue = VENUES.find((one) => one.venue === name)
  figure.edit((draft) => {
    if (venue) showAt(draft, venue)
    else draft.page.venue = 'own'
  })
}

const fits = (value: number | null): string => {
  const points = (value ?? 0) * UNITS[unit.value]
  return points >= 72 && points <= 7200 ? '' : 'A page is between 1 and 100 inches wide and high.'
}

const setSide = (side: 'width' | 'height', value: number | null): void =>
  figure.edit((draft) => {
    draft.page[side] = (value ?? 10) * UNITS[unit.value]
  })

function draftCaption(): void {
  if (!figure.drawn) return
  const text = captionOf(document.value, figure.drawn.answer, studies.variableOf)
  figure.edit((draft) => {
    draft.caption = text
  })
}

const called = ref('')
const looks = computed(() => studies.study?.looks ?? [])

async function save(): Promise<void> {
  const name = called.value.trim()
  if (!name) return
  await studies.saveLook({ name, ...lookOf(document.value) })
  called.value = ''
}

function use(look: SavedLook): void {
  figure.edit((draft) => putOn(draft, look))
}
</script>

<template>
  <label v-for="{ part, label, none } in PARTS" :key="part" class="field">
    {{ label }}
    <input
      v-held="document[part] ?? ''"
      :maxlength="part === 'caption' ? 4000 : 500"
      :placeholder="none"
      @input="set(part, $event)"
    />
  </label>
  <button type="button" class="link" @click="draftCaption">
    Draft the caption from the readings
  </button>
  <Choice
    label="Venue"
    :value="document.page.venue"
    :options="[
      ...VENUES.map(({ venue, label }) => ({ value: venue, label })),
      { value: 'own', label: 'own size' },
    ]"
    @set="setVenue"
  />
  <div v-if="document.page.venue === 'own'" class="own">
    <NumberField
      v-for="side in ['width', 'height'] as const"
      :key="side"
      :label="side === 'width' ? 'Width' : 'Height'"
      :value="Number((document.page[side] / UNITS[unit]).toFixed(2))"
      :check="fits"
      @set="setSide(side, $event)"
    />
    <label class="field">
      In
      <select v-model="unit" aria-label="Unit of the page">
        <option v-for="(_, name) in UNITS" :key="name" :value="name">{{ name }}</option>
      </select>
    </label>
  </div>
  <Slider
    label="Text size of the figure"
    :value="Math.round(document.type.scale * 100)"
    :min="50"
    :max="250"
    :step="5"
    :text="`${Math.round(document.type.scale * 100)} %`"
    @set="figure.edit((draft) => (draft.type.scale = $event / 100), 'text size')"
  />
  <Lettering part="title" heading="Lettering of the title" />
  <Lettering part="subtitle" heading="Lettering of the subtitle" />
  <Lettering part="caption" heading="Lettering of the caption" />
  <ColourField
    label="Background"
    :value="document.page.background"
    @set="figure.edit((draft) => (draft.page.background = $event ?? '#ffffff'), 'background')"
  />
  <button
    type="button"
    class="link"
    @click="figure.edit((draft) => (draft.page.background = '#ffffff'))"
  >
    White paper
  </button>
  <ColourField
    label="Frame round the page"
    :value="document.page.frame"
    none="no frame"
    @set="figure.edit((draft) => (draft.page.frame = $event), 'frame')"
  />
  <div class="looks" role="group" aria-label="Looks">
    <span class="quiet">Looks of the study</span>
    <span v-for="look in looks" :key="look.name" class="look">
      <button type="button" class="choice" @click="use(look)">{{ look.name }}</button>
      <button
        type="button"
        class="link"
        :aria-label="`Forget the look ${look.name}`"
        @click="studies.deleteLook(look.name)"
      >
        ×
      </button>
    </span>
    <form class="look" @submit.prevent="save">
      <input
        v-model="called"
        maxlength="200"
        placeholder="Name"
        aria-label="Name to save this look under"
      />
      <button type="submit" class="link" :disabled="!called.trim()">Save this look</button>
    </form>
  </div>
</template>

<style scoped>
.own {
  display: grid;
  grid-template-columns: 1fr 1fr 1fr;
  gap: 8px;
}

.looks {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  font-size: 14px;
}

.looks > .quiet {
  flex-basis: 100%;
}

.look {
  display: flex;
  gap: 4px;
}

.look input {
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
  width: 120px;
}

.look .link:disabled {
  opacity: 0.5;
  cursor: default;
}
</style>
