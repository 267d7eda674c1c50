<script setup lang="ts">
/** One fitted line: equation, numbers, and what it means. */
import { computed, ref } from 'vue'
import type { TrendAnswer } from '@/api/types'
import { shareText } from '@/drawing/text/numbers'
import { valueText } from '@/drawing/geometry/ticks'
import RichText from '@/RichText.vue'
import { countOf } from '@/model/words'
import { readOffLines } from '@/drawing/text/caption'
import { detailLines, mainLines } from './writing'

const props = defineProps<{ trend: TrendAnswer; colour: string; several: boolean }>()

const more = ref(false)
const report = computed(() => props.trend.report)
const title = computed(() => {
  const whom = report.value.group ?? 'All rows'
  return props.several ? `${whom} · ${props.trend.family_label}` : whom
})

const short = (value: number): string => valueText(Number(value.toPrecision(4)))
const main = computed(() => mainLines(report.value))
const details = computed(() => detailLines(report.value))
const readOff = computed(() => readOffLines(report.value))
</script>

<template>
  <article class="card fit" :aria-label="`Readings of ${title}`">
    <h2 class="fit__title">
      <span class="fit__line" :style="{ background: colour }" />
      {{ title }}
    </h2>
    <p v-if="report.problem" class="fit__problem">{{ report.problem }}</p>
    <template v-else>
      <p v-if="report.equation" class="fit__equation"><RichText :text="report.equation ?? ''" /></p>
      <p v-if="report.equation_note" class="fit__note">{{ report.equation_note }}</p>
      <dl class="fit__numbers">
        <div v-for="line in main" :key="line.label">
          <dt>{{ line.label }}</dt>
          <dd>{{ line.value }}</dd>
        </div>
      </dl>
      <p class="fit__sentence">{{ report.sentence }}</p>
      <ul v-if="readOff.length" class="fit__read" aria-label="Read off">
        <li v-for="line in readOff" :key="line">{{ line }}</li>
      </ul>
      <p v-if="trend.with_all" class="fit__note">
        With the {{ countOf(trend.with_all.n - report.n, 'row') }} set aside:
        <template v-if="trend.with_all.slope !== null"
          >slope {{ short(trend.with_all.slope) }}</template
        ><template v-if="trend.with_all.r_squared !== null"
          >, R² = {{ shareText(trend.with_all.r_squared) }}</template
        >.
      </p>
      <button type="button" class="link fit__more" :aria-expanded="more" @click="more = !more">
        {{ more ? 'Less' : 'Intervals and assumptions' }}
      </button>
      <template v-if="more">
        <dl class="fit__details">
          <template v-for="line in details" :key="line.label + line.value">
            <dt><RichText :text="line.label" /></dt>
            <dd><RichText :text="line.value" /></dd>
          </template>
        </dl>
        <ul class="fit__assumptions">
          <li v-for="text in report.assumptions" :key="text">{{ text }}</li>
        </ul>
      </template>
    </template>
  </article>
</template>

<style scoped>
.fit {
  padding: 10px 12px;
}

.fit__title {
  font-size: 15px;
  font-weight: 600;
  display: flex;
  align-items: center;
  gap: 8px;
}

.fit__line {
  width: 16px;
  height: 3px;
  border-radius: 2px;
}

.fit__equation {
  font-size: 16px;
  margin: 2px 0;
}

.fit__note {
  font-size: 13.5px;
  color: var(--soft-ink);
}

.fit__numbers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 24px;
  margin: 2px 0 4px;
  font-size: 14px;
}

.fit__numbers div {
  display: flex;
  justify-content: space-between;
}

dt {
  color: var(--soft-ink);
}

dd {
  margin: 0;
}

.fit__sentence {
  font-size: 14px;
  line-height: 1.38;
}

.fit__read {
  margin: 4px 0;
  padding-left: 16px;
  font-size: 13.5px;
  line-height: 1.35;
}

.fit__problem {
  font-size: 14px;
  color: var(--caution);
}

.fit__more {
  font-size: 13.5px;
}

.fit__details {
  display: grid;
  grid-template-columns: auto auto;
  gap: 1px 12px;
  font-size: 13.5px;
  margin: 6px 0;
}

.fit__details dd {
  text-align: right;
}

.fit__assumptions {
  margin: 0;
  padding-left: 16px;
  font-size: 13.5px;
  color: var(--soft-ink);
  line-height: 1.35;
}
</style>
