<script setup lang="ts">
/**
 * What is set about a trend's family, as the family declares it: the line moves while a slider is
 * dragged.
 */
import { computed } from 'vue'
import { blankSettings } from '@/figure-model/blank'
import type { SettingWords, Trend } from '@/api/types'
import { fitsOf } from '@/render/fits'
import { familyOf } from '@/figure-model/families'
import { copyOf } from '@/lib/copy'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import { inSentence } from '@/figure-model/words'
import UiChoice from '@/ui/UiChoice.vue'
import UiField from '@/ui/UiField.vue'
import UiNaming from '@/ui/UiNaming.vue'
import UiPlace from '@/ui/UiPlace.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiSlider from '@/ui/UiSlider.vue'
import UiText from '@/ui/UiText.vue'
import { rangeOf, settingKey, settingText, sliderPlace, sliderValue } from '@/figure-model/settings'

type Value = string | number | null

const props = defineProps<{ trend: number }>()

/** For a setting that may be left to the fit. */
const FOUND_OR_GIVEN = (found: string) => [
  { value: 'found', label: found },
  { value: 'given', label: 'given' },
]

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const trend = computed(() => figure.document!.trends[props.trend])
const declared = computed(() => familyOf(trend.value.family).settings)
const together = computed(() => familyOf(trend.value.family).together)
const held = computed(() => trend.value.settings as Record<string, Value>)
const span = computed(() => {
  const { low, high } = figure.drawn?.answer.x ?? { low: 0, high: 1 }
  return (high ?? 1) - (low ?? 0)
})
const isDate = computed(() => figure.drawn?.answer.x.variable.kind === 'date')
/** Controls in their order; numbers to be typed stand side by side. */
const typed = computed(() => declared.value.filter(({ control }) => control === 'number'))
const worded = computed(() => declared.value.filter(({ control }) => control === 'text'))
const others = computed(() =>
  declared.value.filter(({ control }) => control === 'choice' || control === 'slider'),
)

/** What is wrong with what was typed, where no line could be fitted. */
const problem = computed(() => {
  const drawn = figure.drawn
  if (!drawn || drawn.document.trends[props.trend]?.settings !== trend.value.settings) return ''
  const own = fitsOf(drawn.answer).filter((fit) => fit.trend === props.trend)
  return own.every(({ report }) => report.problem) ? (own[0]?.report.problem ?? '') : ''
})

/** What a setting in words begins from: what the family offers, and what the study keeps. */
const beginnings = ({ begins }: SettingWords): SettingWords['begins'] => [
  ...begins,
  ...(begins.length ? kept.value : []).map(({ name, formula, known }) => ({
    label: name,
    sets: { formula, known },
  })),
]

const begunFrom = (one: SettingWords): string | null =>
  beginnings(one).find(({ sets }) =>
    Object.entries(sets).every(([name, to]) => held.value[name] === to),
  )?.label ?? null

function begin(one: SettingWords, label: string | null): void {
  const chosen = beginnings(one).find(({ label: own }) => own === label)
  if (chosen) tune(chosen.sets)
}

const kept = computed(() => studies.study?.formulas ?? [])
const isKept = computed(() => kept.value.some(({ formula }) => formula === held.value.formula))

const keep = (name: string): void =>
  void studies.save({
    of: 'formula',
    value: {
      name,
      formula: String(held.value.formula),
      known: String(held.value.known ?? ''),
    },
  })

/** Several trends in the place of this one, each with its own settings. */
function putOn(several: Record<string, Value>[]): void {
  figure.edit((draft) => {
    const own = draft.trends[props.trend]
    const made = several.map((settings, i) => ({
      ...copyOf(own),
      settings: { ...copyOf(own.settings), ...settings },
      bands: [],
      dash: i === (several.length - 1) / 2 ? own.dash : ('dashed' as const),
    }))
    draft.trends.splice(props.trend, 1, ...(made as Trend[]))
  })
}

const numberOf = ({ name }: SettingWords): number | null => held.value[name] as number | null
const countsX = ({ counted_by }: SettingWords): boolean => held.value[counted_by] === 'x'

const tune = (change: Record<string, Value>, what = '') =>
  figure.edit(
    (draft) => {
      Object.assign(draft.trends[props.trend].settings, change)
    },
    what && `${what} ${props.trend}`,
  )

/** What is counted by a setting starts anew with it: in units of x as a tenth of the data. */
function choose({ name }: SettingWords, value: Value): void {
  const begun = blankSettings<Record<string, Value>>(trend.value.family)
  const counted = declared.value.filter(({ counted_by }) => counted_by === name)
  const anew = counted.map((one) => [
    one.name,
    value === 'x' ? Number((span.value / 10).toPrecision(2)) : begun[one.name],
  ])
  tune({ [name]: value, ...Object.fromEntries(anew) })
}

/** Says where one of two ends would not lie below the other. */
function check(setting: SettingWords, value: number | null): string {
  const [lower, upper] = setting.below
    ? [setting, declared.value.find(({ name }) => name === setting.below)]
    : [declared.value.find(({ below }) => below === setting.name), setting]
  if (!lower || !upper || value === null) return ''
  const other = numberOf(setting === lower ? upper : lower)
  if (other === null || (setting === lower ? value < other : value > other)) return ''
  const ends = [lower, upper].map(inSentence)
  return setting === lower
    ? `The ${ends[0]} lies below the upper one.`
    : `The ${ends[1]} lies above the lower one.`
}
</script>

<template>
  <UiRow v-if="typed.length" even>
    <UiPlace
      v-for="one in typed"
      :key="one.name"
      :label="one.label"
      :model-value="numberOf(one)"
      :placeholder="one.free"
      :check="(value) => check(one, value)"
      @update:model-value="tune({ [one.name]: $event })"
    />
  </UiRow>
  <template v-for="(one, i) in worded" :key="one.name">
    <UiSelect
      v-if="one.begins.length"
      label="Start from"
      :model-value="begunFrom(one)"
      :options="[
        ...(begunFrom(one) === null ? [{ value: null, label: 'custom formula' }] : []),
        ...beginnings(one).map(({ label }) => ({ value: label, label })),
      ]"
      @update:model-value="begin(one, $event)"
    />
    <UiText
      :data-lit="side.sought === settingKey(one.name) || undefined"
      :label="one.label"
      :model-value="String(held[one.name] ?? '')"
      :placeholder="one.free"
      :maxlength="500"
      :hint="one.says"
      :error="i ? '' : problem"
      @update:model-value="tune({ [one.name]: $event })"
    />
  </template>
  <UiField v-if="worded.length" label="Formulas of the study" role="group" aria-label="Formulas">
    <UiRow v-for="one in kept" :key="one.name">
      <UiAction @click="tune({ formula: one.formula, known: one.known })">{{ one.name }}</UiAction>
      <UiAction
        kind="words"
        :label="`Delete the saved formula ${one.name}`"
        @click="studies.forgetSaved({ of: 'formula', value: one })"
      >
        ×
      </UiAction>
    </UiRow>
    <UiNaming
      v-if="!isKept && !problem"
      label="Name to keep this formula under"
      action="Keep it"
      @named="keep"
    />
  </UiField>
  <UiField v-if="together.length" label="Several at once" role="group" aria-label="Several at once">
    <UiRow>
      <UiAction v-for="one in together" :key="one.label" @click="putOn(one.settings)">
        {{ one.label }}
      </UiAction>
    </UiRow>
  </UiField>
  <template v-for="one in others" :key="one.name">
    <UiChoice
      v-if="one.control === 'choice'"
      :label="one.label"
      :model-value="held[one.name]"
      :options="one.choices"
      @update:model-value="choose(one, $event)"
    />
    <template v-else>
      <UiChoice
        v-if="one.free"
        :label="one.label"
        :model-value="held[one.name] === null ? 'found' : 'given'"
        :options="FOUND_OR_GIVEN(one.free)"
        @update:model-value="tune({ [one.name]: $event === 'given' ? one.starts : null })"
      />
      <UiSlider
        v-if="numberOf(one) !== null"
        :label="one.free ? `${one.label} given` : one.label"
        v-bind="rangeOf(one, countsX(one) ? span : null)"
        :model-value="sliderPlace(one, numberOf(one)!)"
        :text="settingText(one, numberOf(one)!, countsX(one) ? (isDate ? 'days' : '') : one.suffix)"
        :place-of="(typed) => sliderPlace(one, one.scale === 'share' ? typed / 100 : typed)"
        @update:model-value="tune({ [one.name]: sliderValue(one, $event) }, one.name)"
      />
    </template>
  </template>
</template>
