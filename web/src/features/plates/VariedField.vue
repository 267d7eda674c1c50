<script setup lang="ts">
/** The one thing in which a figure of a plate differs from the figure it is made from. */
import { computed } from 'vue'
import type { FigureDocument, Varied } from '@/api/types'
import UiSelect from '@/ui/UiSelect.vue'
import { useStudy } from '@/stores/study'
import { choicesOf, THINGS, thingsOf, type Thing } from '@/plates/vary-figure'

const props = defineProps<{ document: FigureDocument; varied: Varied | null }>()
const emit = defineEmits<{ set: [varied: Varied | null] }>()

const studies = useStudy()
const variables = computed(() => studies.tableOf(props.document.table)?.summary.variables ?? [])
const things = computed(() => thingsOf(props.document, variables.value))
const by = computed(() =>
  props.varied?.thing === 'category'
    ? props.varied.variable
    : (variables.value.find(({ kind }) => kind === 'category')?.name ?? ''),
)
const choicesFor = (thing: Thing, variable = by.value) =>
  choicesOf(
    thing,
    variables.value,
    variable,
    studies.looksOf(variable).map(({ value }) => value),
  )
const choices = computed(() => (props.varied ? choicesFor(props.varied.thing) : []))
const categories = computed(() => variables.value.filter(({ kind }) => kind === 'category'))
const chosen = computed(() => choices.value.findIndex(({ varied }) => same(varied, props.varied)))

const same = (a: Varied, b: Varied | null): boolean => {
  const plain = (one: Varied | null) =>
    one?.thing === 'form' ? one.family : JSON.stringify(one, Object.keys(one ?? {}).sort())
  return a.thing === b?.thing && plain(a) === plain(b)
}

const thingOptions = computed(() => [
  { value: null, label: 'nothing' },
  ...THINGS.filter(({ value }) => things.value.includes(value)).map(({ value, label }) => ({
    value,
    label: value === 'category' ? 'category' : label,
  })),
])

const setThing = (thing: Thing | null): void =>
  emit('set', thing === null ? null : (choicesFor(thing)[0]?.varied ?? null))

const setBy = (variable: string): void =>
  emit('set', choicesFor('category', variable)[0]?.varied ?? null)
</script>

<template>
  <UiSelect
    label="Varies"
    :model-value="varied?.thing ?? null"
    :options="thingOptions"
    @update:model-value="setThing"
  />
  <UiSelect
    v-if="varied?.thing === 'category' && categories.length > 1"
    label="Categories of"
    :model-value="varied.variable"
    :options="categories.map(({ name, label }) => ({ value: name, label }))"
    @update:model-value="setBy"
  />
  <UiSelect
    v-if="varied"
    label="Here it is"
    :model-value="chosen"
    :options="choices.map(({ label }, i) => ({ value: i, label }))"
    @update:model-value="emit('set', choices[$event].varied)"
  />
</template>
