<script setup lang="ts">
/** The categories of a variable: their order, what they are called and coloured, for the study. */
import { computed, ref } from 'vue'
import { Problem } from '@/api/client'
import type { CategoryLook, VariableSummary } from '@/api/types'
import { CATEGORIES, fromHex, toHex } from '@/drawing/colours'
import { useStudy } from '@/stores/study'

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

function rename(look: CategoryLook, event: Event): void {
  const label = (event.target as HTMLInputElement).value.trim()
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

function paint(look: CategoryLook, hex: string): void {
  picking.value = null
  void change(look.value, { colour: hex })
}

const typedColour = (event: Event): string =>
  toHex(fromHex((event.target as HTMLInputElement).value))
</script>

<template>
  <div class="categories" role="group" :aria-label="`Categories of ${variable.label}`">
    <p class="quiet note">Order, names and colours hold for every figure of the study.</p>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <ul>
      <li v-for="(look, place) in shown" :key="look.value">
        <button
          type="button"
          class="swatch"
          :style="{ background: colourOf(look) }"
          :aria-label="`Colour of ${look.label ?? look.value}`"
          :aria-expanded="picking === look.value"
          @click="picking = picking === look.value ? null : look.value"
        ></button>
        <input
          v-held="look.label ?? look.value"
          maxlength="200"
          :aria-label="`Name of ${look.value}`"
          :title="look.label ? `In the data: ${look.value}` : undefined"
          @change="rename(look, $event)"
        />
        <span class="quiet">{{ counts[look.value] }}</span>
        <button
          type="button"
          class="link"
          :disabled="place === 0"
          :aria-label="`Move ${look.label ?? look.value} up`"
          @click="move(place, -1)"
        >
          ↑
        </button>
        <button
          type="button"
          class="link"
          :disabled="place === shown.length - 1"
          :aria-label="`Move ${look.label ?? look.value} down`"
          @click="move(place, 1)"
        >
          ↓
        </button>
        <div v-if="picking === look.value" class="palette">
          <button
            v-for="(colour, i) in CATEGORIES"
            :key="i"
            type="button"
            class="swatch"
            :style="{ background: toHex(colour) }"
            :aria-label="`Colour ${i + 1}`"
            @click="paint(look, toHex(colour))"
          ></button>
          <input
            type="color"
            :value="colourOf(look)"
            aria-label="Own colour"
            @change="paint(look, typedColour($event))"
          />
        </div>
      </li>
    </ul>
  </div>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  display: grid;
  gap: 4px;
}

li {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
}

li > input {
  flex: 1;
  min-width: 0;
  border: 1px solid transparent;
  border-radius: 4px;
  padding: 1px 4px;
}

li > input:hover,
li > input:focus {
  border-color: var(--line);
}

.swatch {
  width: 18px;
  height: 18px;
  border-radius: 4px;
  cursor: pointer;
}

.palette {
  flex-basis: 100%;
  display: flex;
  gap: 5px;
  align-items: center;
}

.palette input {
  width: 26px;
  height: 22px;
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 4px;
}

.link:disabled {
  opacity: 0.35;
  cursor: default;
}

.note {
  font-size: 13.5px;
  line-height: 1.3;
}
</style>
