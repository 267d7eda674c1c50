<script setup lang="ts">
/** A shared page: what a figure shows, the figure, and what it says. */
import { computed, ref } from 'vue'
import type { PlateDocument, Shared } from '@/api/types'
import { asPlain } from '@/render/text/text'
import { captionText } from '@/render/text/caption'
import { toHex } from '@/render/colours'
import { shareText } from '@/render/text/numbers'
import { layoutPlate, letterOf } from '@/plates/layout'
import { contains } from '@/render/scene'
import { fitsOf } from '@/render/fits'
import { drawnKind, sceneOf } from '@/kinds/renderers'
import { measure } from '@/render/text/measure'
import { trendColour } from '@/render/parts/trend-style'
import { countOf } from '@/figure-model/words'
import FitCard from '@/features/readings/FitCard.vue'
import { comparisons } from '@/features/readings/writing'
import { sentenceOf } from '@/kinds'
import { summaryOf } from '@/kinds/summary'
import ShownFigure from './ShownFigure.vue'
import ShownScene from './ShownScene.vue'
import { unpack } from './shared'

const props = defineProps<{ found: Shared | string }>()

const problem = typeof props.found === 'string' ? props.found : ''
const shared = typeof props.found === 'string' ? null : props.found
const shown = shared?.figures.map((packed, i) => unpack(packed, i + 1)) ?? []
const plate = (shared?.plate ?? null) as PlateDocument | null
/** Which figure of a plate is looked at by itself; the whole plate where null. */
const picked = ref<number | null>(plate ? null : 0)
const open = computed(() => (picked.value === null ? null : shown[picked.value]))
const fits = computed(() => (answer.value ? fitsOf(answer.value) : []))
const kind = computed(() => open.value && drawnKind(open.value.figure.document))
/** Whether it has axes of its own, to be read and zoomed. */
const hasAxes = computed(() => Boolean(kind.value?.looking))
const answer = computed(() => open.value?.figure.answer ?? null)
const sentence = computed(() =>
  open.value ? sentenceOf(open.value.figure.document, open.value.look) : '',
)
const caption = computed(() => {
  if (!open.value) return plate?.caption ?? ''
  const { document, answer: said, number } = open.value.figure
  return document.caption_below ? '' : captionText(document.caption, document, said, number ?? null)
})
const panels =
  plate?.cells.map(({ heading }, i) => ({
    figure: shown[i]?.figure ?? null,
    heading: heading ?? '',
    problem: '',
  })) ?? []
const nameOf = (i: number): string => letterOf(i, plate?.letters === 'A' ? 'A' : 'a')

/** What the part under the pointer says, where a figure is made of parts. */
const said = ref('')
/** Laid out when the pointer first comes: the fonts are there by then. */
const saying = computed(() => kind.value?.saying?.(open.value!.figure, measure) ?? null)

/** For those who do not point. */
const says = computed(() => (open.value && kind.value?.says?.(open.value.figure)) ?? [])

function point(x: number, y: number): void {
  said.value = saying.value?.(x, y) ?? ''
}

const plateLayout = () => layoutPlate(plate!, panels, measure)

function pick(x: number, y: number): void {
  const found = plateLayout().cells.findIndex((box) => contains(box, x, y))
  if (found >= 0 && shown[found]) picked.value = found
}

if (shared) document.title = shared.title
</script>

<template>
  <main v-if="shared" class="viewer">
    <header class="viewer__head">
      <h1>{{ shared.title }}</h1>
      <p v-if="sentence && sentence !== shared.title" class="quiet">{{ sentence }}</p>
      <nav v-if="plate" class="beside" aria-label="Figures of the plate">
        <button type="button" class="choice" :aria-pressed="picked === null" @click="picked = null">
          together
        </button>
        <button
          v-for="(panel, i) in panels"
          :key="i"
          type="button"
          class="choice"
          :aria-pressed="picked === i"
          @click="picked = i"
        >
          {{ nameOf(i) }} {{ asPlain(panel.heading) }}
        </button>
      </nav>
    </header>
    <section class="viewer__figure" :class="{ 'viewer__figure--wide': !open }" aria-label="Figure">
      <ShownScene
        v-if="!open"
        :scene="() => plateLayout().scene"
        :figures="shown.map(({ figure }) => figure)"
        :spoken="shared.title"
        @pick="pick"
      />
      <ShownScene
        v-else-if="!hasAxes"
        :key="`parts ${picked}`"
        :scene="() => sceneOf(open!.figure, measure)"
        :figures="[open.figure]"
        :spoken="sentence"
        :summary="summaryOf(open.figure)"
        @point="point"
        @leave="said = ''"
      />
      <ShownFigure v-else :key="`figure ${picked}`" :shown="open" />
    </section>
    <aside v-if="open && answer" class="cards viewer__readings" aria-label="Readings" tabindex="0">
      <p v-if="!hasAxes" class="card" role="status">{{ said || kind?.hint }}</p>
      <div v-if="says.length" class="card">
        <ul class="plain-list" aria-label="Read without pointing">
          <li v-for="text in says" :key="text">{{ text }}</li>
        </ul>
      </div>
      <p v-for="{ title, text } in answer.cautions" :key="text" class="wrong">
        <strong>{{ title }}</strong> {{ text }}
      </p>
      <FitCard
        v-for="(trend, i) in fits"
        :key="i"
        :trend="trend"
        :colour="toHex(trendColour(open.figure.document, answer, trend))"
        :several="open.figure.document.trends.length > 1"
      />
      <p v-for="compared in comparisons(answer)" :key="compared" class="card">
        {{ compared }}
      </p>
      <p v-if="answer.association && !fits.length && hasAxes" class="card">
        r = {{ shareText(answer.association.r) }}, n = {{ answer.association.n }}
      </p>
      <p v-if="hasAxes" class="quiet small">
        <template v-if="answer.cells">
          Shaded by how many of {{ countOf(answer.cells.rows, 'row') }} lie in each cell. Point at a
          line to read it.
        </template>
        <template v-else>Point at a mark or a line to read it.</template>
        Wheel, + and − zoom; drag to move; 0 fits the data<template v-if="!answer.cells"
          >; arrow keys walk from mark to mark</template
        >.
      </p>
    </aside>
    <p v-if="caption" class="viewer__caption">{{ caption }}</p>
  </main>
  <main v-else class="viewer viewer--none">
    <h1>Nothing to see here</h1>
    <p>{{ problem }}</p>
  </main>
</template>

<style scoped>
.viewer {
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr) 304px;
  gap: 12px 16px;
  height: 100vh;
  box-sizing: border-box;
  padding: 14px 16px 40px;
  color: var(--ink);
}

.viewer__head {
  grid-column: 1 / -1;
  display: grid;
  gap: 4px;
}

.viewer__head h1 {
  font-size: var(--text-head);
  font-weight: 600;
}

.viewer__figure {
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 1fr);
  min-width: 0;
  min-height: 0;
}

.viewer__figure--wide {
  grid-column: 1 / -1;
}

.viewer__readings {
  overflow: auto;
  min-height: 0;
}

.viewer__caption {
  grid-column: 1 / -1;
}

.viewer--none {
  display: block;
  padding: 20vh 24px;
  text-align: center;
}

@media (width < 820px) {
  .viewer {
    height: auto;
    grid-template: auto 70vw auto / minmax(0, 1fr);
  }

  .viewer__readings {
    margin-top: 24px;
  }
}
</style>
