<script setup lang="ts">
/** Handing the figure on: an image at the resolution that is wanted, vectors, numbers, a page. */
import { computed, ref, watch } from 'vue'
import { askCalls, askFitted, askPackage, Problem } from '@/api/client'
import { captionText } from '@/render/text/caption'
import { asPlain } from '@/render/text/text'
import { kindOf } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import SidePanel from '@/components/SidePanel.vue'
import { useStudy } from '@/stores/study'
import { captionOf } from '@/kinds/caption'
import { useHanded } from './export-scene'
import { imageOf, pdfOf, save, svgOf } from '@/render/files/images'
import UiCheck from '@/ui/UiCheck.vue'
import UiChoice from '@/ui/UiChoice.vue'
import UiField from '@/ui/UiField.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiText from '@/ui/UiText.vue'
import UiAction from '@/ui/UiAction.vue'

const POINTS_AN_INCH = 72
const RESOLUTIONS = [96, 150, 300, 600]
const FORMATS = [
  { format: 'csv', label: 'Save CSV' },
  { format: 'parquet', label: 'Save Parquet' },
] as const

const figure = useFigure()
const plate = usePlate()
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
    ? asPlain(
        captionText(drawn.document.caption, drawn.document, drawn.answer, drawn.number ?? null) ??
          '',
      )
    : ''
})

const resolutions = RESOLUTIONS.map((value) => ({ value, label: String(value) }))

function setResolution(value: number): void {
  dpi.value = value
  own.value = ''
}

function setOwn(typed: string): void {
  const value = Number(typed)
  own.value = typed
  if (value >= 30 && value <= 1200) {
    dpi.value = value
    problem.value = ''
  } else if (typed !== '') {
    problem.value = 'Type a resolution from 30 to 1,200 dots per inch.'
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

/** The figure or the plate that is open. */
const opened = (): string | null => figure.id ?? plate.id

/** Makes something, and says so where the browser cannot. */
async function attempt(what: string, work: () => Promise<void>): Promise<void> {
  working.value = what
  problem.value = ''
  said.value = ''
  const of = opened()
  try {
    await figure.whole()
    // What is made is of the figure that was meant, or nothing.
    if (opened() === of) await work()
    else problem.value = 'Nothing was exported, because another figure was opened meanwhile.'
  } catch (error) {
    problem.value = sentenceOf(error, what)
  } finally {
    working.value = ''
  }
}

/** Saves a file, and says under which name. */
function keep(blob: Blob, ending: string, of = ''): void {
  const name = `${fileName.value}${of}.${ending}`
  save(blob, name)
  said.value = `Saved as ${name}.`
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
  attempt(ending, async () => keep(await image(type), ending))

const svg = (): Promise<Blob> => svgOf(handed.value!.scene(), handed.value!.alt, fonts.value)

const saveSvg = () => attempt('svg', async () => keep(await svg(), 'svg'))

const savePdf = () =>
  attempt('pdf', async () => {
    const { name: title, alt } = handed.value!
    const made = await pdfOf(handed.value!.scene(), { title, alt, transparent: transparent.value })
    keep(made.blob, 'pdf')
    if (made.pictured)
      said.value += ` Words with letters that the fonts do not have (${made.pictured}) stand in the PDF as a picture.`
  })

/**
 * Copies, and says how it went. The clipboard is asked at once, while the press still allows it, and
 * is given what will be made.
 */
async function copy(
  what: string,
  thing: string,
  type: string,
  make: () => Promise<Blob>,
): Promise<void> {
  let failure: unknown = null
  const made = attempt(what, async () => undefined).then(make)
  made.catch((error: unknown) => (failure = error))
  try {
    await navigator.clipboard.write([new ClipboardItem({ [type]: made })])
    said.value = `Copied ${thing}.`
  } catch {
    problem.value = failure
      ? sentenceOf(failure, what)
      : 'The browser did not allow copying: save the file instead.'
  }
}

const copyImage = () => copy('copy', 'as an image', png.type, () => image(png.type))

const copySvg = () =>
  copy(
    'copy-svg',
    'as SVG',
    'text/plain',
    async () => new Blob([await (await svg()).text()], { type: 'text/plain' }),
  )

const copyCaption = () =>
  copy(
    'copy-caption',
    'the caption',
    'text/plain',
    async () => new Blob([reads.value], { type: 'text/plain' }),
  )

const saveFitted = (format: 'csv' | 'parquet') =>
  attempt(format, async () => {
    const blob = await askFitted(figure.drawn!.document, format)
    keep(blob, format, '-fitted')
  })

const savePackage = () =>
  attempt('package', async () => keep(await askPackage(figure.drawn!.document), 'zip'))

/** The call that makes the figure from its table's file, as it was asked for last. */
const call = ref('')
const copied = ref('')

const copyCall = (what: 'command' | 'python') =>
  attempt(what, async () => {
    call.value = (await askCalls(figure.drawn!.document))[what]
    await navigator.clipboard.writeText(call.value).then(
      () => (copied.value = 'Copied. '),
      () => (copied.value = ''),
    )
  })
watch(
  () => [figure.id, figure.drawn?.document],
  () => (call.value = ''),
)
const drawnTable = computed(() => studies.tableOf(figure.document!.table))
const drawnFile = computed(() => drawnTable.value?.dataset ?? `${drawnTable.value?.name}.csv`)

function draftCaption(): void {
  const { document, answer } = figure.drawn!
  const text = captionOf(document, answer, studies.variableOf)
  figure.edit((draft) => (draft.caption = text))
}

const setCaption = (text: string): void =>
  figure.edit((draft) => (draft.caption = text.trim() === '' ? null : text), 'caption')
</script>

<template>
  <SidePanel heading="Export">
    <UiChoice
      label="Image resolution, dpi"
      :model-value="dpi"
      :options="resolutions"
      @update:model-value="setResolution"
    />
    <UiRow>
      <UiText
        bare
        numeric
        class="ui-short"
        label="Custom resolution, dpi"
        placeholder="custom"
        :model-value="own"
        @update:model-value="setOwn"
      />
      {{ pixels[0] }} × {{ pixels[1] }} pixels
    </UiRow>
    <UiCheck v-model="transparent" label="Transparent background (PNG, PDF)" />
    <UiAction kind="main" :busy="working === 'png'" @click="saveImage(png)">Save PNG</UiAction>
    <UiNote v-if="said" role="status">{{ said }}</UiNote>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiRow even>
      <UiAction :busy="working === 'jpg'" @click="saveImage(jpeg)">Save JPEG</UiAction>
      <UiAction :busy="working === 'copy'" @click="copyImage">Copy image</UiAction>
    </UiRow>
    <UiField label="Vector formats (text stays text)" role="group" aria-label="Vectors">
      <UiCheck v-model="fonts" label="Embed fonts in the SVG" />
      <UiAction :busy="working === 'pdf'" @click="savePdf">Save PDF</UiAction>
      <UiRow even>
        <UiAction :busy="working === 'svg'" @click="saveSvg">Save SVG</UiAction>
        <UiAction :busy="working === 'copy-svg'" @click="copySvg">Copy SVG</UiAction>
      </UiRow>
    </UiField>
    <template v-if="handed?.kind === 'figure'">
      <UiText
        label="Caption"
        hint="Fields in {braces} update with the data."
        placeholder="No caption"
        :lines="3"
        :maxlength="4000"
        :model-value="caption"
        @typed="setCaption"
      />
      <UiNote v-if="reads && reads !== caption" data-testid="caption">{{ reads }}</UiNote>
      <UiCheck
        label="Print below the figure"
        :model-value="figure.document!.caption_below"
        @update:model-value="figure.edit((draft) => (draft.caption_below = $event))"
      />
      <UiRow even>
        <UiAction @click="draftCaption">Draft caption</UiAction>
        <UiAction :disabled="!reads" :busy="working === 'copy-caption'" @click="copyCaption">
          Copy caption
        </UiAction>
      </UiRow>
      <UiField label="Data behind the figure" role="group" aria-label="Data behind the figure">
        <UiRow v-if="kindOf(figure.document!).fitted?.of(figure.document!).length" even>
          <UiAction
            v-for="{ format, label } in FORMATS"
            :key="format"
            :busy="working === format"
            :off="figure.needsRows"
            tip="Rows, fitted values and residuals"
            @click="saveFitted(format)"
          >
            {{ label }}
          </UiAction>
        </UiRow>
        <UiAction
          :busy="working === 'package'"
          :off="figure.needsRows"
          tip="Data package that imports as this figure anywhere"
          @click="savePackage"
        >
          Figure and table as one file
        </UiAction>
      </UiField>
    </template>
    <UiField v-if="handed?.kind === 'figure'" label="Reproduce with a script" role="group">
      <UiRow even>
        <UiAction :busy="working === 'command'" @click="copyCall('command')">
          As a command
        </UiAction>
        <UiAction :busy="working === 'python'" @click="copyCall('python')">As Python</UiAction>
      </UiRow>
      <template v-if="call">
        <UiText bare fixed label="The call" :lines="6" :model-value="call" />
        <UiNote role="status">
          {{ copied }}It draws {{ drawnFile
          }}{{
            drawnTable?.dataset
              ? ', where it is.'
              : ': save the table so, or put another file in its place.'
          }}
        </UiNote>
      </template>
    </UiField>
    <UiField label="For others to view">
      <UiAction @click="side.show({ kind: 'share' })">Share as a page …</UiAction>
    </UiField>
  </SidePanel>
</template>
