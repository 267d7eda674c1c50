<script setup lang="ts">
/** A new plate: figures of the study side by side, or one figure with one thing changed. */
import { computed, ref, watch } from 'vue'
import { blankPlate } from '@/api/blank'
import type { FigureDocument } from '@/api/types'
import SidePanel from '@/SidePanel.vue'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import Choice from '@/tuning/Choice.vue'
import { figureName } from '@/kinds'
import { choicesOf, THINGS, thingsOf, type Thing } from './varying'

const MOST = 12

const emit = defineEmits<{ made: [plate: string] }>()

const studies = useStudy()
const figure = useFigure()
const how = ref<'vary' | 'side by side'>(figure.id ? 'vary' : 'side by side')
const picked = ref<string[]>(studies.figures.slice(0, 2).map(({ id }) => id))
const source = ref(figure.id ?? studies.figures[0]?.id ?? '')
const document = computed(
  (): FigureDocument | null =>
    studies.figures.find(({ id }) => id === source.value)?.document ?? null,
)
const variables = computed(() =>
  document.value ? (studies.tableOf(document.value.table)?.summary.variables ?? []) : [],
)
const categories = computed(() => variables.value.filter(({ kind }) => kind === 'category'))
const things = computed(() =>
  document.value
    ? THINGS.filter(({ value }) => thingsOf(document.value!, variables.value).includes(value))
    : [],
)
const thing = ref<Thing>('category')
const by = ref('')
watch(
  things,
  (known) => {
    if (!known.some(({ value }) => value === thing.value) && known.length)
      thing.value = known[0].value
    if (!categories.value.some(({ name }) => name === by.value))
      by.value = categories.value[0]?.name ?? ''
  },
  { immediate: true },
)
const choices = computed(() =>
  choicesOf(
    thing.value,
    variables.value,
    by.value,
    studies.looksOf(by.value).map(({ value }) => value),
  ),
)
const taken = ref<number[]>([])
watch(
  choices,
  (all) => (taken.value = all.flatMap(({ start }, i) => (start ? [i] : [])).slice(0, MOST)),
  { immediate: true },
)
const cells = computed(() =>
  how.value === 'vary'
    ? [...taken.value]
        .sort((a, b) => a - b)
        .map((i) => ({ figure: source.value, varied: choices.value[i].varied, heading: null }))
    : picked.value.map((id) => ({ figure: id, varied: null, heading: null })),
)
const problem = computed(() =>
  cells.value.length > MOST
    ? `A plate holds at most ${MOST} figures.`
    : cells.value.length === 0
      ? 'Choose at least one.'
      : '',
)

async function make(): Promise<void> {
  const made = await studies.addPlate(blankPlate(cells.value, how.value === 'vary'))
  emit('made', made.id)
}
</script>

<template>
  <SidePanel heading="New plate" label="New plate">
    <Choice
      label="Made of"
      :value="how"
      :options="[
        { value: 'vary' as const, label: 'one figure, varied' },
        { value: 'side by side' as const, label: 'figures side by side' },
      ]"
      @set="how = $event"
    />
    <template v-if="how === 'vary'">
      <label class="field">
        Figure
        <select v-model="source">
          <option v-for="one in studies.figures" :key="one.id" :value="one.id">
            {{ figureName(one.document, studies.variableOf) }}
          </option>
        </select>
      </label>
      <label class="field">
        Vary
        <select v-model="thing">
          <option v-for="{ value, label } in things" :key="value" :value="value">
            {{ label }}
          </option>
        </select>
      </label>
      <label v-if="thing === 'category' && categories.length > 1" class="field">
        Categories of
        <select v-model="by">
          <option v-for="v in categories" :key="v.name" :value="v.name">{{ v.label }}</option>
        </select>
      </label>
      <fieldset class="list">
        <legend class="out-of-sight">One figure for each</legend>
        <label v-for="({ label }, i) in choices" :key="i">
          <input v-model="taken" type="checkbox" :value="i" /> {{ label }}
        </label>
      </fieldset>
    </template>
    <fieldset v-else class="list">
      <legend class="out-of-sight">Figures</legend>
      <label v-for="one in studies.figures" :key="one.id">
        <input v-model="picked" type="checkbox" :value="one.id" />
        {{ figureName(one.document, studies.variableOf) }}
      </label>
    </fieldset>
    <p v-if="problem" class="quiet">{{ problem }}</p>
    <v-btn color="primary" variant="flat" :disabled="problem !== ''" @click="make">
      Make the plate
    </v-btn>
  </SidePanel>
</template>

<style scoped>
.list {
  border: 0;
  padding: 0;
  margin: 0;
  display: grid;
  gap: 4px;
  font-size: 14px;
  max-height: 320px;
  overflow: auto;
}

.list label {
  display: flex;
  gap: 6px;
  align-items: baseline;
}
</style>
