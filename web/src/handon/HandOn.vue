<script setup lang="ts">
/** Handing the figure on: an image at the resolution that is wanted, or vectors. */
import { computed, ref } from 'vue'
import { sentenceOf } from '@/statement/sentence'
import { useFigure } from '@/stores/figure'
import SidePanel from '@/SidePanel.vue'
import { useStudy } from '@/stores/study'
import { figureName } from '@/words'
import { pngOf, save, svgOf } from './images'

const POINTS_AN_INCH = 72
const RESOLUTIONS = [96, 150, 300, 600]

const figure = useFigure()
const studies = useStudy()
const dpi = ref(300)
const own = ref('')
const working = ref('')
const problem = ref('')

const page = computed(() => figure.document!.page)
const pixels = computed(() => {
  const factor = dpi.value / POINTS_AN_INCH
  return [page.value.width, page.value.height].map((side) => Math.round(side * factor))
})
const name = computed(() => figureName(figure.document!, studies.variableOf))
const fileName = computed(() => name.value.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase())

function setOwn(): void {
  const value = Number(own.value)
  if (value >= 30 && value <= 1200) {
    dpi.value = value
    problem.value = ''
  } else if (own.value !== '') {
    problem.value = 'A resolution lies between 30 and 1,200 dots per inch.'
  }
}

async function make(kind: 'PNG' | 'SVG'): Promise<void> {
  if (!figure.drawn) return
  working.value = kind
  problem.value = ''
  try {
    const title = sentenceOf(figure.drawn.document, studies.variableOf)
    const made =
      kind === 'PNG' ? await pngOf(figure.drawn, dpi.value) : await svgOf(figure.drawn, title)
    save(made, `${fileName.value}.${kind.toLowerCase()}`)
  } catch {
    problem.value = `The browser could not make an image of ${pixels.value.join(' × ')} pixels. Choose a lower resolution.`
  } finally {
    working.value = ''
  }
}
</script>

<template>
  <SidePanel heading="Hand on" label="Hand on">
    <div class="hand__part" role="group" aria-label="Resolution">
      <h3 class="quiet">Image (PNG), dots per inch</h3>
      <div class="hand__row">
        <button
          v-for="one in RESOLUTIONS"
          :key="one"
          type="button"
          class="choice"
          :aria-pressed="dpi === one"
          @click="((dpi = one), (own = ''))"
        >
          {{ one }}
        </button>
        <input
          v-model="own"
          class="hand__own"
          inputmode="numeric"
          placeholder="own"
          aria-label="Own resolution, dots per inch"
          @change="setOwn"
        />
      </div>
      <p class="quiet">{{ pixels[0] }} × {{ pixels[1] }} pixels</p>
      <v-btn color="primary" variant="flat" :loading="working === 'PNG'" @click="make('PNG')">
        Save PNG
      </v-btn>
    </div>
    <div class="hand__part">
      <h3 class="quiet">Vectors (SVG), with real text and its font</h3>
      <v-btn :loading="working === 'SVG'" @click="make('SVG')">Save SVG</v-btn>
    </div>
    <p v-if="problem" class="hand__problem" role="alert">{{ problem }}</p>
  </SidePanel>
</template>

<style scoped>
.hand__part {
  display: grid;
  gap: 6px;
  font-size: 14px;
}

.hand__part h3 {
  font-size: 14px;
  font-weight: 400;
}

.hand__row {
  display: flex;
  gap: 4px;
}

.hand__own {
  width: 64px;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
  color: var(--ink);
  font: inherit;
}

.hand__own::placeholder {
  color: var(--soft-ink);
  opacity: 1;
}

.hand__problem {
  color: var(--caution);
  font-size: 14px;
}
</style>
