<script setup lang="ts">
/** The residuals of a trend, drawn below its figure and linked to it by the selection. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { askResiduals, Problem } from '@/api/client'
import type { ResidualsAgainst } from '@/api/types'
import { layoutFigure, type Layout } from '@/drawing/layout/figure'
import type { Figure } from '@/drawing/drawn'
import { paintScene } from '@/drawing/paint/canvas'
import { indexMarks } from '@/drawing/geometry/pick'
import { contains } from '@/drawing/scene'
import { measure } from '@/drawing/text/measure'
import { latest, OVERTAKEN } from '@/latest'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'

const WAYS: { value: ResidualsAgainst; label: string }[] = [
  { value: 'fitted', label: 'against fitted values' },
  { value: 'x', label: 'against x' },
  { value: 'order', label: 'against the order of rows' },
  { value: 'quantile', label: 'against normal quantiles' },
]
const NEAR = 6
const HEIGHT = 220

const props = defineProps<{ trend: number }>()
const emit = defineEmits<{ close: [] }>()

const figure = useFigure()
const side = useSide()
const canvas = useTemplateRef('canvas')
const host = useTemplateRef('host')
const against = ref<ResidualsAgainst>('fitted')
const drawn = shallowRef<Figure | null>(null)
const layout = shallowRef<Layout | null>(null)
const problem = ref('')
const width = ref(0)
const question = latest()
onBeforeUnmount(question.drop)

/** Asks again whenever the figure has a new answer, so that both show the same rows. */
watch(
  () => [props.trend, against.value, figure.drawn?.answer],
  async () => {
    const { document } = figure
    if (!document || !figure.drawn) return
    try {
      const found = await question.ask((signal) =>
        askResiduals({ document, trend: props.trend, against: against.value }, signal),
      )
      if (found === OVERTAKEN) return
      drawn.value = found
      problem.value = ''
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      problem.value = `${error.message} ${error.detail}`
      drawn.value = null
    }
  },
  { immediate: true },
)

const page = computed(() => ({ width: Math.max(200, width.value), height: HEIGHT }))

watch([drawn, page], draw, { flush: 'post' })

function draw(): void {
  const target = canvas.value
  if (!target || !drawn.value || !width.value) return
  const { document } = drawn.value
  const shown: Figure = {
    ...drawn.value,
    document: {
      ...document,
      page: { ...document.page, ...page.value },
      marks: { ...document.marks, size: 4.5 },
      legend: { ...document.legend, place: 'none' },
    },
  }
  const made = layoutFigure(shown, measure)
  const pixels = window.devicePixelRatio
  target.width = Math.round(page.value.width * pixels)
  target.height = Math.round(page.value.height * pixels)
  paintScene(made.scene, target.getContext('2d')!, pixels)
  layout.value = made
}

const rings = computed(() => {
  const made = layout.value
  if (!made || !drawn.value || !side.selected.size) return []
  const { marks } = drawn.value
  return [...made.source].flatMap((i, k) =>
    side.selected.has(marks.row[i]) ? [{ x: made.marks.x[k], y: made.marks.y[k] }] : [],
  )
})

function click(event: MouseEvent): void {
  const made = layout.value
  if (!made || !drawn.value) return
  const box = canvas.value!.getBoundingClientRect()
  const [x, y] = [event.clientX - box.left, event.clientY - box.top]
  if (!contains(made.plot, x, y)) return
  const mark = indexMarks(made.marks.x, made.marks.y, made.marks.clip, made.radius).nearest(
    x,
    y,
    NEAR,
  )
  if (mark < 0) return
  const row = drawn.value.marks.row[made.source[mark]]
  side.select([row], event.shiftKey ? 'add' : event.altKey ? 'take' : 'instead')
}

const observer = new ResizeObserver(([entry]) => (width.value = entry.contentRect.width))
onMounted(() => observer.observe(host.value!))
onBeforeUnmount(() => {
  observer.disconnect()
})
</script>

<template>
  <section class="residuals" aria-label="Residuals" data-testid="residuals">
    <header class="beside head">
      <strong>Residuals</strong>
      <span role="group" aria-label="Residuals drawn" class="ui-choice ui-fill">
        <UiAction
          v-for="way in WAYS"
          :key="way.value"
          :pressed="against === way.value"
          @click="against = way.value"
        >
          {{ way.label }}
        </UiAction>
      </span>
      <UiAction kind="words" @click="emit('close')">Close</UiAction>
    </header>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <div v-show="!problem" ref="host" class="left" :style="{ height: `${HEIGHT}px` }">
      <canvas
        ref="canvas"
        class="picture"
        role="img"
        :aria-label="`Residuals ${WAYS.find(({ value }) => value === against)?.label}`"
        @click="click"
      ></canvas>
      <svg class="over" :viewBox="`0 0 ${page.width} ${page.height}`" aria-hidden="true">
        <circle v-for="(ring, i) in rings" :key="i" :cx="ring.x" :cy="ring.y" r="5" />
      </svg>
    </div>
  </section>
</template>

<style scoped>
.residuals {
  background: var(--paper);
  border-radius: var(--radius);
  box-shadow: 0 1px 2px var(--shadow);
  margin-top: 8px;
  color: var(--paper-ink);
}

.head {
  padding: 8px 8px 0;
}

.left {
  position: relative;
}

.picture {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
}
</style>
