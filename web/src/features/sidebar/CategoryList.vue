<script setup lang="ts">
/** The categories of a variable: their order, what they are called and coloured, for the study. */
import { computed, ref } from 'vue'
import { Problem } from '@/api/client'
import type { CategoryLook, VariableSummary } from '@/api/types'
import { CATEGORIES, toHex } from '@/render/colours'
import { useStudy } from '@/stores/study'
import UiColour from '@/ui/UiColour.vue'
import UiList from '@/ui/UiList.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiText from '@/ui/UiText.vue'
import UiAction from '@/ui/UiAction.vue'

const props = defineProps<{ variable: VariableSummary }>()

const studies = useStudy()
const problem = ref('')
const picking = ref<string | null>(null)
const counts = computed(() => props.variable.counts ?? {})

/** Those that this table holds; others of the study keep their places. */
const shown = computed(() =>
  studies.looksOf(props.variable.name).filter(({ value }) => value in counts.value),
)

const colourOf = (look: CategoryLook): string =>
  look.colour ?? toHex(CATEGORIES[look.turn % CATEGORIES.length])

async function set(looks: CategoryLook[]): Promise<void> {
  problem.value = ''
  try {
    await studies.setLooks(props.variable.name, looks)
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  }
}

const change = (value: string, what: Partial<CategoryLook>) =>
  set(
    studies
      .looksOf(props.variable.name)
      .map((look) => (look.value === value ? { ...look, ...what } : look)),
  )

function rename(look: CategoryLook, typed: string): void {
  const label = typed.trim()
  void change(look.value, { label: label === '' || label === look.value ? null : label })
}

/** Moves a category before or behind its neighbour among those that are shown. */
function move(place: number, by: -1 | 1): void {
  const all = [...studies.looksOf(props.variable.name)]
  const [from, to] = [place, place + by].map((p) =>
    all.findIndex(({ value }) => value === shown.value[p].value),
  )
  const [taken] = all.splice(from, 1)
  all.splice(to, 0, taken)
  void set(all)
}

const nameOf = (look: CategoryLook): string => look.label ?? look.value
</script>

<template>
  <div role="group" :aria-label="`Categories of ${variable.label}`">
    <UiNote>Order, labels and colours apply to every figure of the study.</UiNote>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiList label="Categories">
      <li v-for="(look, place) in shown" :key="look.value">
        <UiRow>
          <UiAction
            class="ui-swatch"
            :style="{ background: colourOf(look) }"
            :label="`Colour of ${nameOf(look)}`"
            :aria-expanded="picking === look.value"
            @click="picking = picking === look.value ? null : look.value"
          />
          <UiText
            bare
            class="ui-fill"
            :label="`Name of ${look.value}`"
            :title="look.label ? `In the data: ${look.value}` : undefined"
            :model-value="nameOf(look)"
            :maxlength="200"
            @update:model-value="rename(look, $event)"
          />
          <span class="quiet">{{ counts[look.value] }}</span>
          <UiAction
            kind="words"
            :disabled="place === 0"
            :label="`Move ${nameOf(look)} up`"
            @click="move(place, -1)"
          >
            ↑
          </UiAction>
          <UiAction
            kind="words"
            :disabled="place === shown.length - 1"
            :label="`Move ${nameOf(look)} down`"
            @click="move(place, 1)"
          >
            ↓
          </UiAction>
        </UiRow>
        <UiColour
          v-if="picking === look.value"
          :label="`Colour of ${nameOf(look)} in the study`"
          :model-value="colourOf(look)"
          @update:model-value="change(look.value, { colour: $event })"
        />
      </li>
    </UiList>
  </div>
</template>
