<script setup lang="ts">
/** Every trend on the same rows, the best at predicting left-out rows first. */
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { setFamily } from '@/figure-model/blank'
import { client, finished } from '@/api/client'
import type { Comparison, FormCompared, Trend } from '@/api/types'
import { shareText } from '@/render/text/numbers'
import { valueText } from '@/render/geometry/ticks'
import SidePanel from '@/components/SidePanel.vue'
import { copyOf } from '@/lib/copy'
import { useFigure } from '@/stores/figure'
import { useAnswer, useKeys } from '@/stores/queries'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiNote from '@/ui/UiNote.vue'
import UiProgress from '@/ui/UiProgress.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiTable from '@/ui/UiTable.vue'
import UiAction from '@/ui/UiAction.vue'

const props = defineProps<{ trend: number; group: string | null }>()

const figure = useFigure()
const side = useSide()
const studies = useStudy()
/** Which line's rows are compared on: that of a group, where the trend is fitted to each. */
const chosen = ref(props.group)
const groups = computed(() =>
  (figure.drawn?.answer.trends ?? [])
    .filter((one) => one.trend === props.trend)
    .flatMap(({ report }) => report.group ?? []),
)
const line = computed({
  get: () => {
    const known = chosen.value !== null && groups.value.includes(chosen.value)
    return groups.value.length ? (known ? chosen.value : groups.value[0]) : null
  },
  set: (one) => (chosen.value = one),
})

/** The figure with only that of its trend by which rows are chosen: adopting a form asks nothing. */
const rowsOfLine = computed(() => {
  const { document } = figure
  const trend = document?.trends[props.trend]
  if (!document || !trend) return null
  const { x, y, kind, rows, set_aside, error_bars } = document
  const { by, weights, weights_are } = trend
  return [x, y, kind, rows, set_aside, error_bars, by, weights, weights_are]
})

const keyOf = useKeys()
const { data, problem, done } = useAnswer(
  () =>
    figure.document && rowsOfLine.value
      ? keyOf('comparison', figure.document.table, rowsOfLine.value, line.value)
      : null,
  (signal, tell) =>
    finished<Comparison>(
      client.POST('/api/comparisons', {
        body: {
          document: figure.document!,
          trend: props.trend,
          group: line.value,
          formulas: studies.study?.formulas ?? [],
        },
        params: { header: { prefer: 'respond-async' } },
      }),
      tell,
      signal,
    ),
)
const found = computed(() => data.value ?? null)

/** They are drawn faintly on the figure while one looks at the list. */
watch(
  found,
  (compared) => {
    const [left, right] = compared?.across ?? []
    const [bottom, top] = compared?.up ?? []
    if (!compared || left == null || right == null || bottom == null || top == null) {
      side.candidates = []
      return
    }
    side.candidates = compared.forms
      .filter(({ problem: why }) => !why)
      .map(({ label, x, y }) => ({
        label,
        x: x.map((share) => left + share * (right - left)),
        y: y.map((share) => (share === null ? null : bottom + share * (top - bottom))),
      }))
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  side.candidates = []
  side.litCandidate = ''
})

const held = computed(() => figure.document?.trends[props.trend] ?? null)

/** Whether the trend is of a form: where a family is compared with several settings, of these. */
function isHeld({ family, settings }: FormCompared): boolean {
  if (held.value?.family !== family) return false
  const others = found.value?.forms.filter((one) => one.family === family) ?? []
  return others.length < 2 || JSON.stringify(held.value.settings) === JSON.stringify(settings)
}

function adopt({ family, settings }: FormCompared): void {
  figure.edit((draft) => {
    setFamily(draft.trends[props.trend], family, copyOf(settings) as Trend['settings'])
  })
}

/** A tiny picture of a form over the range of the data. */
const picture = ({ x, y }: FormCompared): string =>
  x
    .map((at, i) => [at, y[i]] as const)
    .filter((point): point is readonly [number, number] => point[1] !== null)
    .map(([at, up], i) => {
      const inside = Math.max(-0.1, Math.min(1.1, up))
      return `${i ? 'L' : 'M'}${(2 + at * 40).toFixed(1)} ${(22 - inside * 20).toFixed(1)}`
    })
    .join('')

/** How much smaller the squared error is than the straight line’s, in per cent. */
const gainText = ({ gain, gain_se: se }: FormCompared): string =>
  gain == null || se == null
    ? ''
    : `${valueText(Math.round(100 * gain))} ± ${valueText(Math.ceil(100 * se))} %`
const rowsText = computed(() => {
  const { n = 0, validated = 0 } = found.value ?? {}
  return validated < n
    ? `Fitted to n = ${valueText(n)} rows, validated on ${valueText(validated)} of them.`
    : `On n = ${valueText(n)} rows.`
})

const short = (value: number | null | undefined): string =>
  value === null || value === undefined ? '–' : valueText(Number(value.toPrecision(3)))
</script>

<template>
  <SidePanel heading="Compare trends" label="Trends compared" data-testid="compare">
    <UiSelect
      v-if="groups.length"
      v-model="line"
      label="On the rows of"
      :options="groups.map((value) => ({ value, label: value }))"
    />
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiProgress v-else-if="!found" label="Fitting every trend …" :share="done" />
    <template v-else>
      <UiNote kind="plain">{{ found.why }}</UiNote>
      <UiTable tight class="forms">
        <thead>
          <tr>
            <th scope="col">Trend</th>
            <th scope="col" title="Root mean square residual of rows that were left out">
              CV error, gain
            </th>
            <th scope="col">AICc</th>
            <th scope="col">R²</th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(one, i) in found.forms" :key="i">
            <tr
              v-if="!one.problem"
              :class="{ held: isHeld(one) }"
              @pointerenter="side.litCandidate = one.label"
              @pointerleave="side.litCandidate = ''"
              @focusin="side.litCandidate = one.label"
              @focusout="side.litCandidate = ''"
            >
              <th scope="row">
                <UiAction
                  kind="row"
                  class="form"
                  :pressed="isHeld(one)"
                  :label="`Use the ${one.label}`"
                  @click="adopt(one)"
                >
                  <svg viewBox="0 0 44 24" width="44" height="24" aria-hidden="true">
                    <path :d="picture(one)" fill="none" stroke="currentColor" stroke-width="1.6" />
                  </svg>
                  {{ one.label }}
                </UiAction>
              </th>
              <td>
                {{ short(one.left_out_error) }}
                <span class="quiet small gain">{{ gainText(one) }}</span>
              </td>
              <td>{{ short(one.aicc) }}</td>
              <td>{{ one.r_squared == null ? '–' : shareText(one.r_squared) }}</td>
            </tr>
          </template>
        </tbody>
      </UiTable>
      <template v-for="(one, i) in found.forms" :key="`why ${i}`">
        <UiNote v-if="one.problem">
          <strong>{{ one.label }}:</strong> {{ one.problem }}
        </UiNote>
      </template>
      <UiNote>
        CV error (cross-validation): root mean square residual of rows left out a tenth at a time,
        in units of y<template v-if="found.n < 20">; here one row at a time</template>. Gain: by how
        much its square is below the straight line’s, ± standard error. {{ rowsText }}
      </UiNote>
    </template>
    <UiAction kind="words" @click="side.tune(`trend-${props.trend}`)"> Trend settings </UiAction>
  </SidePanel>
</template>

<style scoped>
.forms :deep(:is(th, td)) {
  text-align: right;
  white-space: nowrap;
}

.forms :deep(th:first-child) {
  text-align: left;
  white-space: normal;
}

.gain {
  display: block;
}

.held {
  background: var(--chosen);
}

.form.ui-action {
  color: var(--accent);
}

.form :deep(.v-btn__content) {
  display: grid;
  justify-items: start;
}
</style>
