<script setup lang="ts">
/** The one thing in which a figure of a plate differs from the figure it is made from. */
import { computed } from 'vue'
import type { FigureDocument, Varied } from '@/api/types'
import { useStudy } from '@/stores/study'
import { choicesOf, THINGS, thingsOf, type Thing } from './varying'

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

function setThing(event: Event): void {
  const thing = (event.target as HTMLSelectElement).value as Thing | ''
  emit('set', thing === '' ? null : (choicesFor(thing)[0]?.varied ?? null))
}

const setBy = (event: Event): void =>
  emit('set', choicesFor('category', (event.target as HTMLSelectElement).value)[0]?.varied ?? null)

const setChoice = (event: Event): void =>
  emit('set', choices.value[Number((event.target as HTMLSelectElement).value)].varied)
</script>

<template>
  <label class="field">
    Differs in
    <select :value="varied?.thing ?? ''" @change="setThing">
      <option value="">nothing</option>
      <option
        v-for="{ value, label } in THINGS.filter((t) => things.includes(t.value))"
        :key="value"
        :value="value"
      >
        {{ value === 'category' ? 'category' : label }}
      </option>
    </select>
  </label>
  <label v-if="varied?.thing === 'category' && categories.length > 1" class="field">
    Categories of
    <select :value="varied.variable" @change="setBy">
      <option v-for="v in categories" :key="v.name" :value="v.name">{{ v.label }}</option>
    </select>
  </label>
  <label v-if="varied" class="field">
    Here it is
    <select :value="chosen" @change="setChoice">
      <option v-for="({ label }, i) in choices" :key="i" :value="i">{{ label }}</option>
    </select>
  </label>
</template>
