<script setup lang="ts">
/** A field in which things are found by one's own words, with what answers to them below it. */
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import type { VAutocomplete } from 'vuetify/components/VAutocomplete'

interface Answer {
  key: string
  label: string
  where: string
  why: string
}

const props = defineProps<{ label: string; answers: readonly Answer[] }>()
const typed = defineModel<string>({ required: true })
const emit = defineEmits<{
  chosen: [key: string]
  /** Escape, in an empty field. */
  left: []
}>()

const field = useTemplateRef<VAutocomplete>('field')
const chosen = ref<string | null>(null)

watch(chosen, (key) => {
  if (key === null) return
  chosen.value = null
  typed.value = ''
  // The focus goes where what was found is, not back into the field.
  field.value?.blur()
  emit('chosen', key)
})

/** Enter takes the first answer, where the list has not taken one itself. */
async function enter(): Promise<void> {
  await nextTick()
  if (typed.value.trim() && props.answers.length) chosen.value = props.answers[0].key
}

/** Escape empties the field first, and then leaves it. */
function escape(): void {
  if (!typed.value) {
    field.value?.blur()
    emit('left')
  }
  typed.value = ''
}

defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <v-autocomplete
    ref="field"
    v-model="chosen"
    v-model:search="typed"
    class="ui-find"
    :items="answers as Answer[]"
    item-title="label"
    item-value="key"
    no-filter
    auto-select-first
    :placeholder="label"
    :aria-label="label"
    menu-icon=""
    :list-props="{ 'aria-label': label } as object"
    :menu-props="{ maxHeight: 420, minWidth: 300 }"
    :hide-no-data="!typed.trim()"
    no-data-text="Nothing answers to these words"
    :open-on-clear="false"
    @keydown.esc="escape"
    @keydown.enter="enter"
  >
    <template #item="{ props: item, item: answer }">
      <v-list-item
        v-bind="item"
        :title="(answer as unknown as Answer).label"
        :class="{ 'ui-find__off': (answer as unknown as Answer).why }"
      >
        <template #subtitle>
          {{ (answer as unknown as Answer).why || (answer as unknown as Answer).where }}
        </template>
      </v-list-item>
    </template>
  </v-autocomplete>
</template>
