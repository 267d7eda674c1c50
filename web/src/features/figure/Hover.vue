<script setup lang="ts">
/** What is under the pointer: a row with its values, or a trend with its equation. */
import { computed, ref, watch } from 'vue'
import type { VariableWords } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { bandsText } from '@/render/text/intervals'
import { rSquaredText } from '@/render/text/numbers'
import { dateText, GAP, valueText } from '@/render/geometry/ticks'
import RichText from '@/components/RichText.vue'
import type { Hovered } from './hovering'

const REST_AFTER_MS = 120
const MOST_OTHERS = 8

interface Line {
  /** The variable's own name, by which labels that are alike are told apart. */
  name?: string
  label: string
  value: string
}

const props = defineProps<{
  hovered: Hovered
  scale: number
  drawn: RenderedFigure
  /** Everything that is known of a row. */
  rowLines: (row: number) => Promise<Line[]>
}>()

const said = (words: VariableWords, value: number): Line => ({
  label: words.label,
  value:
    words.kind === 'date'
      ? dateText(value)
      : valueText(value) + (words.unit ? GAP + words.unit : ''),
})

const inUse = computed((): Line[] => {
  const { hovered, drawn } = props
  if (hovered.kind !== 'mark') return []
  const { answer, marks } = drawn
  const { source } = hovered
  const colour = answer.colour
  const category =
    colour?.scale === 'category' ? colour.categories[marks.colour?.[source] ?? -1] : ''
  // Of several variables up a mark shows one, and is called by it.
  const own = isSeries.value ? { ...answer.y.variable, label: category ?? '' } : answer.y.variable
  const lines = [said(own, marks.y[source])]
  // A number by itself stands on one axis.
  if (answer.x.variable.name !== answer.y.variable.name || isSeries.value)
    lines.push(said(answer.x.variable, marks.x[source]))
  const deep = answer.space?.depth.variable
  if (deep && marks.depth) lines.push(said(deep, marks.depth[source]))
  if (colour && marks.colour && !isSeries.value) {
    const value = marks.colour[source]
    if (colour.scale === 'category')
      lines.push({ label: colour.variable.label, value: category ?? 'missing' })
    else if (Number.isNaN(value)) lines.push({ label: colour.variable.label, value: 'missing' })
    else lines.push(said(colour.variable, value))
  }
  return lines
})

/** Whether several variables go up, told apart by colour. */
const isSeries = computed(() => props.drawn.answer.colour?.variable.name === '')

/** The row's other values, fetched once the pointer rests. */
const others = ref<Line[]>([])
watch(
  () => (props.hovered.kind === 'mark' ? props.hovered.row : -1),
  (row, _, onCleanup) => {
    others.value = []
    if (row < 0) return
    let left = false
    onCleanup(() => (left = true))
    setTimeout(() => {
      if (left) return
      void props
        .rowLines(row)
        .then((lines) => {
          const { x, y, colour } = props.drawn.answer
          const used = new Set([x.variable.name, props.drawn.answer.space?.depth.variable.name])
          if (colour) used.add(colour.variable.name)
          if (!isSeries.value) used.add(y.variable.name)
          const isOther = ({ name }: Line): boolean => name === undefined || !used.has(name)
          if (!left) others.value = lines.filter(isOther).slice(0, MOST_OTHERS)
        })
        // The values in use are shown all the same.
        .catch(() => undefined)
    }, REST_AFTER_MS)
  },
  { immediate: true },
)

const trend = computed(() => (props.hovered.kind === 'trend' ? props.hovered.trend : null))

const box = computed(() => {
  const { x, y } = props.hovered
  const { width, height } = props.drawn.document.page
  const left = x < width * 0.6
  const above = y > height * 0.6
  return {
    left: left ? `${x * props.scale + 14}px` : 'auto',
    right: left ? 'auto' : `${(width - x) * props.scale + 14}px`,
    top: above ? 'auto' : `${y * props.scale + 10}px`,
    bottom: above ? `${(height - y) * props.scale + 10}px` : 'auto',
  }
})

const ring = computed(() => {
  const radius = props.hovered.kind === 'mark' ? props.hovered.radius : 0
  const size = (2 * radius + 7) * props.scale
  return {
    left: `${props.hovered.x * props.scale - size / 2}px`,
    top: `${props.hovered.y * props.scale - size / 2}px`,
    width: `${size}px`,
    height: `${size}px`,
  }
})
</script>

<template>
  <div v-if="hovered.kind === 'mark'" class="ring" :style="ring" />
  <div class="hover" :style="box" role="status">
    <template v-if="hovered.kind === 'mark'">
      <div class="hover__title">
        Row {{ hovered.row + 1
        }}<span v-if="drawn.marks.aside[hovered.source]" class="hover__aside"> · set aside</span>
      </div>
      <dl class="numbers hover__values">
        <template v-for="(line, i) in inUse" :key="i">
          <dt>{{ line.label }}</dt>
          <dd>{{ line.value }}</dd>
        </template>
        <template v-for="(line, i) in others" :key="i">
          <dt class="hover__other">{{ line.label }}</dt>
          <dd class="hover__other">{{ line.value }}</dd>
        </template>
      </dl>
    </template>
    <template v-else-if="trend">
      <div class="hover__title">
        {{ trend.report.group ?? 'All rows' }} · {{ trend.family_label }}
      </div>
      <RichText :text="trend.report.equation ?? ''" />
      <div v-if="trend.report.equation_note" class="hover__other">
        {{ trend.report.equation_note }}
      </div>
      <div class="hover__other">
        <template v-if="rSquaredText(trend.report)"> {{ rSquaredText(trend.report) }}, </template>
        n = {{ trend.report.n
        }}<template v-if="trend.curve?.bands.length"
          >; {{ trend.curve.bands.length > 1 ? 'bands' : 'band' }}:
          {{ bandsText(trend.curve.bands, trend.report.errors) }}</template
        >
      </div>
    </template>
  </div>
</template>

<style scoped>
.hover {
  position: absolute;
  z-index: 2;
  pointer-events: none;
  max-width: 320px;
  padding: 8px 12px;
  border-radius: var(--radius);
  background: var(--paper-ink);
  color: var(--paper-words);
  font-size: var(--text-small);
  line-height: 1.35;
  box-shadow: 0 3px 12px var(--shadow);
}

.hover__title {
  font-weight: 600;
  margin-bottom: 2px;
}

.hover__aside {
  font-weight: 400;
  color: var(--paper-soft);
}

.hover__values dt {
  color: inherit;
}

.hover__other {
  color: var(--paper-soft);
}

.ring {
  position: absolute;
  border: 2px solid var(--paper-ink);
  border-radius: 50%;
  box-shadow: 0 0 0 1.5px var(--paper-words);
  pointer-events: none;
}
</style>
