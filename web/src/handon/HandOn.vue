<script setup lang="ts">
/** Handing the figure on: an image at the resolution that is wanted, or vectors. */
import { computed, ref } from 'vue'
import { askFitted, Problem } from '@/api/client'
import { sentenceOf } from '@/statement/sentence'
import { useFigure } from '@/stores/figure'
import SidePanel from '@/SidePanel.vue'
import { useStudy } from '@/stores/study'
import { figureName } from '@/words'
import { imageOf, save, svgOf } from './images'

const POINTS_AN_INCH = 72
const RESOLUTIONS = [96, 150, 300, 600]

const figure = useFigure()
const studies = useStudy()
const dpi = ref(300)
const own = ref('')
const working = ref('')
const problem = ref('')
const said = ref('')
const transparent = ref(false)

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

/** Makes something, and says so where the browser cannot. */
async function attempt(what: string, work: () => Promise<void>): Promise<void> {
  working.value = what
  problem.value = ''
  said.value = ''
  try {
    await work()
  } catch (error) {
    problem.value =
      error instanceof Problem
        ? error.sentence
        : `The browser could not make an image of ${pixels.value.join(' × ')} pixels. Choose a lower resolution.`
  } finally {
    working.value = ''
  }
}

const png = { type: 'image/png', ending: 'png' } as const
const jpeg = { type: 'image/jpeg', ending: 'jpg' } as const

const saveImage = ({ type, ending }: typeof png | typeof jpeg) =>
  attempt(ending, async () => {
    const options = { dpi: dpi.value, type, transparent: transparent.value }
    save(await imageOf(figure.drawn!, options), `${fileName.value}.${ending}`)
  })

const svg = (): Promise<Blob> =>
  svgOf(figure.drawn!, sentenceOf(figure.drawn!.document, studies.variableOf))

const saveSvg = () => attempt('svg', async () => save(await svg(), `${fileName.value}.svg`))

const copyImage = () =>
  attempt('copy', async () => {
    const options = { dpi: dpi.value, type: png.type, transparent: transparent.value }
    const blob = await imageOf(figure.drawn!, options)
    try {
      await navigator.clipboard.write([new ClipboardItem({ [png.type]: blob })])
      said.value = 'Copied as an image.'
    } catch {
      problem.value = 'The browser did not allow copying: save the image instead.'
    }
  })

const copySvg = () =>
  attempt('copy-svg', async () => {
    const text = await (await svg()).text()
    try {
      await navigator.clipboard.writeText(text)
      said.value = 'Copied as SVG.'
    } catch {
      problem.value = 'The browser did not allow copying: save the file instead.'
    }
  })

const saveFitted = (format: 'csv' | 'parquet') =>
  attempt(format, async () => {
    const blob = await askFitted(figure.drawn!.document, format)
    save(blob, `${fileName.value}-fitted.${format}`)
  })
</script>

<template>
  <SidePanel heading="Hand on" label="Hand on">
    <div class="hand__part" role="group" aria-label="Resolution">
      <h3 class="quiet">Image, dots per inch</h3>
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
      <label class="hand__row">
        <input v-model="transparent" type="checkbox" /> without its ground (PNG)
      </label>
      <v-btn color="primary" variant="flat" :loading="working === 'png'" @click="saveImage(png)">
        Save PNG
      </v-btn>
      <div class="hand__two">
        <v-btn :loading="working === 'jpg'" @click="saveImage(jpeg)">Save JPEG</v-btn>
        <v-btn :loading="working === 'copy'" @click="copyImage">Copy image</v-btn>
      </div>
    </div>
    <div class="hand__part">
      <h3 class="quiet">Vectors (SVG), with real text and its font</h3>
      <div class="hand__two">
        <v-btn :loading="working === 'svg'" @click="saveSvg">Save SVG</v-btn>
        <v-btn :loading="working === 'copy-svg'" @click="copySvg">Copy SVG</v-btn>
      </div>
    </div>
    <div v-if="figure.document!.trends.length" class="hand__part">
      <h3 class="quiet">The numbers behind it: rows, fitted values, residuals</h3>
      <div class="hand__two">
        <v-btn :loading="working === 'csv'" @click="saveFitted('csv')">Save CSV</v-btn>
        <v-btn :loading="working === 'parquet'" @click="saveFitted('parquet')">Save Parquet</v-btn>
      </div>
    </div>
    <p v-if="said" class="quiet" role="status">{{ said }}</p>
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

.hand__two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px;
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
