<script setup lang="ts">
/** One fitted line: equation, numbers, and what it means. */
import { computed } from 'vue'
import type { TrendAnswer } from '@/api/types'
import { shareText } from '@/render/text/numbers'
import { valueText } from '@/render/geometry/ticks'
import RichText from '@/components/RichText.vue'
import { countOf, unbroken } from '@/figure-model/words'
import { readOffLines } from '@/render/text/caption'
import Term from './Term.vue'
import { detailLines, mainLines, namedLines } from './writing'

const props = defineProps<{ trend: TrendAnswer; colour: string; several?: boolean }>()

const report = computed(() => props.trend.report)
const title = computed(() => {
  const whom = report.value.group ?? 'All rows'
  return props.several ? `${whom} · ${props.trend.family_label}` : whom
})

const short = (value: number): string => valueText(Number(value.toPrecision(4)))
const main = computed(() => mainLines(report.value))
const named = computed(() => namedLines(report.value))
const details = computed(() => detailLines(report.value))
const readOff = computed(() => readOffLines(report.value))
</script>

<template>
  <article class="card fit" :aria-label="`Readings of ${title}`">
    <h2 class="cards__title fit__title">
      <span class="fit__line sample" :style="{ '--of': colour }" />
      {{ title }}
    </h2>
    <p v-if="report.problem" class="wrong">{{ report.problem }}</p>
    <template v-else>
      <dl class="fit__numbers">
        <div v-for="(line, i) in main" :key="line.label" :class="{ 'main-number': !i }">
          <dt>
            <Term :label="line.label" />
          </dt>
          <dd>{{ line.value }}</dd>
        </div>
      </dl>
      <p v-if="report.equation" class="fit__equation"><RichText :text="report.equation ?? ''" /></p>
      <ul v-if="named.length" class="fit__list" aria-label="Coefficients">
        <li v-for="line in named" :key="line.label">
          <RichText :text="`${line.label} = ${line.value}`" />
        </li>
      </ul>
      <p v-if="report.equation_note" class="quiet">{{ report.equation_note }}</p>
      <p class="fit__sentence">{{ unbroken(report.sentence) }}</p>
      <ul v-if="readOff.length" class="fit__list" aria-label="Read off">
        <li v-for="line in readOff" :key="line">{{ line }}</li>
      </ul>
      <p v-if="trend.with_all" class="quiet">
        With the {{ countOf(trend.with_all.n - report.n, 'row') }} set aside:
        <template v-if="trend.with_all.slope !== null"
          >slope {{ short(trend.with_all.slope) }}</template
        ><template v-if="trend.with_all.r_squared !== null"
          >, R² = {{ shareText(trend.with_all.r_squared) }}</template
        >.
      </p>
      <details class="fit__more">
        <summary class="link" :aria-label="`Intervals and assumptions of ${title}`">
          Intervals and assumptions
        </summary>
        <dl class="numbers">
          <template v-for="line in details" :key="line.label + line.value">
            <dt><Term :label="line.label" /></dt>
            <dd><RichText :text="line.value" /></dd>
          </template>
        </dl>
        <ul class="fit__list quiet">
          <li v-for="text in report.assumptions" :key="text">{{ text }}</li>
        </ul>
      </details>
    </template>
  </article>
</template>

<style scoped>
.fit {
  padding: 8px 12px;
  font-size: var(--text-small);
  line-height: 1.38;
}

.fit__title {
  display: flex;
  align-items: center;
  gap: 8px;
}

.fit__line {
  width: 16px;
  height: 3px;
}

.fit__equation {
  font-size: var(--text-lead);
}

.fit__numbers {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 16px;
  margin: 0;
}

.fit__numbers div {
  display: flex;
  align-items: baseline;
  gap: 4px;
}

.fit__numbers dt {
  color: var(--soft-ink);
}

.fit__numbers dd {
  margin: 0;
}

.fit__more summary {
  list-style: none;
  width: fit-content;
}

.fit__list {
  margin: 4px 0;
  padding-left: 16px;
}
</style>
