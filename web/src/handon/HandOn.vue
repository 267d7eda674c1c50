<script setup lang="ts">
/** Handing the figure on: an image at the resolution that is wanted, vectors, numbers, a page. */
import { computed, ref } from 'vue'
import { askFitted, askPackage, Problem } from '@/api/client'
import { captionText } from '@/drawing/text/caption'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import SidePanel from '@/SidePanel.vue'
import { useStudy } from '@/stores/study'
import { captionOf } from './caption'
import { useHanded } from './handed'
import { imageOf, pdfOf, save, svgOf } from './images'

const POINTS_AN_INCH = 72
const RESOLUTIONS = [96, 150, 300, 600]

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const handed = useHanded()
const dpi = ref(300)
const own = ref('')
const working = ref('')
const problem = ref('')
const said = ref('')
const transparent = ref(false)
const fonts = ref(true)

const pixels = computed(() => {
  const { width, height } = handed.value!.page
  const factor = dpi.value / POINTS_AN_INCH
  return [width, height].map((one) => Math.round(one * factor))
})
const fileName = computed(() => handed.value!.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase())
const caption = computed(() => figure.document?.caption ?? '')
const reads = computed(() => {
  const drawn = figure.drawn
  return drawn
    ? (captionText(drawn.document.caption, drawn.document, drawn.answer, drawn.number ?? null) ??
        '')
    : ''
})

function setOwn(): void {
  const value = Number(own.value)
  if (value >= 30 && value <= 1200) {
    dpi.value = value
    problem.value = ''
  } else if (own.value !== '') {
    problem.value = 'A resolution lies between 30 and 1,200 dots per inch.'
  }
}

/** What went wrong: with what the server says, with the page's own files, or with so large an image. */
function sentenceOf(error: unknown, what: string): string {
  if (error instanceof Problem) return error.sentence
  const said = error instanceof Error ? error.message : String(error)
  // A part of the page that is fetched when it is first needed, or a font, could not be had.
  if (error instanceof TypeError && /fetch|import|load/i.test(said))
    return 'A part of the page could not be fetched: start the server again, then try again.'
  if (['png', 'jpg', 'copy'].includes(what))
    return `The browser could not make an image of ${pixels.value.join(' × ')} pixels (${said}). Choose a lower resolution.`
  return `It could not be made: ${said}.`
}

/** Makes something, and says so where the browser cannot. */
async function attempt(what: string, work: () => Promise<void>): Promise<void> {
  working.value = what
  problem.value = ''
  said.value = ''
  try {
    await work()
  } catch (error) {
    problem.value = sentenceOf(error, what)
  } finally {
    working.value = ''
  }
}

const png = { type: 'image/png', ending: 'png' } as const
const jpeg = { type: 'image/jpeg', ending: 'jpg' } as const

const image = (type: (typeof png | typeof jpeg)['type']): Promise<Blob> =>
  imageOf(handed.value!.scene(), {
    dpi: dpi.value,
    type,
    transparent: transparent.value,
    alt: handed.value!.alt,
  })

const saveImage = ({ type, ending }: typeof png | typeof jpeg) =>
  attempt(ending, async () => save(await image(type), `${fileName.value}.${ending}`))

const svg = (): Promise<Blob> => svgOf(handed.value!.scene(), handed.value!.alt, fonts.value)

const saveSvg = () => attempt('svg', async () => save(await svg(), `${fileName.value}.svg`))

const savePdf = () =>
  attempt('pdf', async () => {
    const { name: title, alt } = handed.value!
    const made = await pdfOf(handed.value!.scene(), { title, alt, transparent: transparent.value })
    save(made.blob, `${fileName.value}.pdf`)
    if (made.pictured)
      said.value = `Words with letters that the fonts do not have (${made.pictured}) stand in the PDF as a picture.`
  })

/** Copies, and says how it went. */
const copy = (what: string, thing: string, write: () => Promise<void>) =>
  attempt(what, async () => {
    try {
      await write()
      said.value = `Copied ${thing}.`
    } catch {
      problem.value = 'The browser did not allow copying: save the file instead.'
    }
  })

const copyImage = () =>
  copy('copy', 'as an image', async () => {
    const blob = await image(png.type)
    await navigator.clipboard.write([new ClipboardItem({ [png.type]: blob })])
  })

const copySvg = () =>
  copy('copy-svg', 'as SVG', async () => navigator.clipboard.writeText(await (await svg()).text()))

const copyCaption = () =>
  copy('copy-caption', 'the caption', () => navigator.clipboard.writeText(reads.value))

const saveFitted = (format: 'csv' | 'parquet') =>
  attempt(format, async () => {
    const blob = await askFitted(figure.drawn!.document, format)
    save(blob, `${fileName.value}-fitted.${format}`)
  })

const savePackage = () =>
  attempt('package', async () =>
    save(await askPackage(figure.drawn!.document), `${fileName.value}.zip`),
  )

function draftCaption(): void {
  const { document, answer } = figure.drawn!
  const text = captionOf(document, answer, studies.variableOf)
  figure.edit((draft) => (draft.caption = text))
}

const setCaption = (event: Event): void => {
  const text = (event.target as HTMLTextAreaElement).value
  figure.edit((draft) => (draft.caption = text.trim() === '' ? null : text), 'caption')
}
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
        <input v-model="transparent" type="checkbox" /> without its ground (PNG, PDF)
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
      <h3 class="quiet">Vectors, with real text</h3>
      <label class="hand__row">
        <input v-model="fonts" type="checkbox" /> fonts inside the SVG, not named only
      </label>
      <v-btn :loading="working === 'pdf'" @click="savePdf">Save PDF</v-btn>
      <div class="hand__two">
        <v-btn :loading="working === 'svg'" @click="saveSvg">Save SVG</v-btn>
        <v-btn :loading="working === 'copy-svg'" @click="copySvg">Copy SVG</v-btn>
      </div>
    </div>
    <div v-if="handed?.kind === 'figure'" class="hand__part">
      <h3 class="quiet">Caption; what stands in braces follows the data</h3>
      <textarea
        v-held="caption"
        class="hand__caption"
        rows="3"
        maxlength="4000"
        aria-label="Caption"
        placeholder="No caption"
        @input="setCaption"
      ></textarea>
      <p v-if="reads && reads !== caption" class="hand__reads" data-testid="caption">
        {{ reads }}
      </p>
      <label class="hand__row">
        <input
          type="checkbox"
          :checked="figure.document!.caption_below"
          @change="figure.edit((draft) => (draft.caption_below = !draft.caption_below))"
        />
        below the figure, too
      </label>
      <div class="hand__two">
        <v-btn @click="draftCaption">Draft it</v-btn>
        <v-btn :disabled="!reads" :loading="working === 'copy-caption'" @click="copyCaption">
          Copy it
        </v-btn>
      </div>
    </div>
    <div v-if="handed?.kind === 'figure'" class="hand__part">
      <h3 class="quiet">The numbers behind it</h3>
      <div v-if="figure.document!.trends.length" class="hand__two">
        <v-btn
          :loading="working === 'csv'"
          title="Rows, fitted values and residuals"
          @click="saveFitted('csv')"
        >
          Save CSV
        </v-btn>
        <v-btn
          :loading="working === 'parquet'"
          title="Rows, fitted values and residuals"
          @click="saveFitted('parquet')"
        >
          Save Parquet
        </v-btn>
      </div>
      <v-btn
        :loading="working === 'package'"
        title="A data package that reads in as this figure anywhere"
        @click="savePackage"
      >
        Figure and table as one file
      </v-btn>
    </div>
    <div class="hand__part">
      <h3 class="quiet">For others to open</h3>
      <v-btn @click="side.show({ kind: 'share' })">Share as a page …</v-btn>
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
  gap: 6px;
  align-items: baseline;
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

.hand__caption {
  font: inherit;
  color: var(--ink);
  background: var(--raised);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 5px 8px;
  resize: vertical;
}

.hand__reads {
  color: var(--soft-ink);
  font-size: 13.5px;
  max-height: 110px;
  overflow: auto;
}

.hand__problem {
  color: var(--caution);
  font-size: 14px;
}
</style>
