<script setup lang="ts">
/** A new plate: figures of the study side by side, or one figure with one thing changed. */
import { computed, ref, watch } from 'vue'
import { blankPlate } from '@/figure-model/blank'
import type { FigureDocument } from '@/api/types'
import SidePanel from '@/components/SidePanel.vue'
import { useFigure } from '@/stores/figure'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiCheck from '@/ui/UiCheck.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiList from '@/ui/UiList.vue'
import UiNote from '@/ui/UiNote.vue'
import UiSelect from '@/ui/UiSelect.vue'
import { figureName } from '@/kinds'
import { choicesOf, THINGS, thingsOf, type Thing } from '@/plates/vary-figure'

const MOST = 12

const emit = defineEmits<{ made: [plate: string] }>()

const studies = useStudy()
const figure = useFigure()
const how = ref<'vary' | 'side by side'>(figure.id ? 'vary' : 'side by side')
/** The open figure first, and the one beside it. */
const picked = ref<string[]>(
  [...studies.figures]
    .sort((a, b) => Number(b.id === figure.id) - Number(a.id === figure.id))
    .slice(0, 2)
    .map(({ id }) => id),
)
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

const WAYS = [
  { value: 'vary', label: 'one figure, varied' },
  { value: 'side by side', label: 'figures side by side' },
] as const
const figures = computed(() =>
  studies.figures.map(({ id, document: one }) => ({
    value: id,
    label: figureName(one, studies.variableOf),
  })),
)

/** Puts one on a list, or takes it off. */
const toggled = <One,>(list: readonly One[], one: One): One[] =>
  list.includes(one) ? list.filter((other) => other !== one) : [...list, one]

async function make(): Promise<void> {
  const made = await studies.addPlate(blankPlate(cells.value, how.value === 'vary'))
  emit('made', made.id)
}
</script>

<template>
  <SidePanel heading="New plate">
    <UiChoice v-model="how" label="Made of" :options="WAYS" />
    <template v-if="how === 'vary'">
      <UiSelect v-model="source" label="Figure" :options="figures" />
      <UiSelect v-model="thing" label="Vary" :options="things" />
      <UiSelect
        v-if="thing === 'category' && categories.length > 1"
        v-model="by"
        label="Categories of"
        :options="categories.map(({ name, label }) => ({ value: name, label }))"
      />
      <UiList label="One figure for each">
        <li v-for="({ label }, i) in choices" :key="i">
          <UiCheck
            :label="label"
            :model-value="taken.includes(i)"
            @update:model-value="taken = toggled(taken, i)"
          />
        </li>
      </UiList>
    </template>
    <UiList v-else label="Figures">
      <li v-for="one in figures" :key="one.value">
        <UiCheck
          :label="one.label"
          :model-value="picked.includes(one.value)"
          @update:model-value="picked = toggled(picked, one.value)"
        />
      </li>
    </UiList>
    <UiNote v-if="problem">{{ problem }}</UiNote>
    <UiAction kind="main" :disabled="problem !== ''" @click="make">Make the plate</UiAction>
  </SidePanel>
</template>
