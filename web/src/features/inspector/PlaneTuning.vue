<script setup lang="ts">
/** The plane of a box: its form, how it is drawn, and what is read off it. */
import { computed, ref } from 'vue'
import { valueText, dateText } from '@/render/geometry/ticks'
import { parsePlace } from '@/figure-model/parse'
import OnFigure from '@/components/OnFigure.vue'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'
import UiList from '@/ui/UiList.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSection from '@/ui/UiSection.vue'
import UiText from '@/ui/UiText.vue'
import Controls from './Controls.vue'
import { PLANE, PLANE_LEVEL } from '@/figure-model/controls/space'
import { READINGS } from '@/figure-model/controls/trends'
import Lettering from './Lettering.vue'

const figure = useFigure()
const side = useSide()
const plane = computed(() => figure.document!.space?.plane ?? null)
const answer = computed(() => figure.drawn?.answer ?? null)
const axes = computed(() => {
  const { x, space } = answer.value ?? {}
  return x && space ? [x.variable, space.depth.variable] : []
})
const typed = ref(['', ''])
const problem = ref('')

const shown = (place: number, i: number): string =>
  axes.value[i]?.kind === 'date' ? dateText(place) : valueText(Number(place.toPrecision(6)))

function add(): void {
  const [across, depth] = typed.value.map((text, i) =>
    parsePlace(text.trim(), axes.value[i].kind === 'date'),
  )
  const wrong = [across, depth].findIndex(Number.isNaN)
  if (wrong >= 0) {
    const wanted = axes.value[wrong].kind === 'date' ? 'a date such as 2031-04-01' : 'a number'
    problem.value = `“${typed.value[wrong]}” is not ${wanted}.`
    return
  }
  problem.value = ''
  typed.value = ['', '']
  figure.edit((draft) =>
    draft.space!.plane!.read_off.push({ across, depth, name: null, group: null }),
  )
}

function remove(): void {
  side.rest()
  figure.edit((draft) => (draft.space!.plane = null))
}
</script>

<template>
  <template v-if="plane">
    <Controls :of="[...PLANE, PLANE_LEVEL]" />
    <UiSection heading="Read off">
      <form :data-lit="side.sought === 'read off' || undefined" @submit.prevent="add">
        <UiRow even>
          <UiText
            v-for="(axis, i) in axes"
            :key="axis.name"
            :label="axis.label"
            :model-value="typed[i]"
            :placeholder="axis.kind === 'date' ? '2031-04-01' : 'a number'"
            :error="i ? '' : problem"
            @typed="typed[i] = $event"
          />
        </UiRow>
        <UiAction type="submit" :disabled="typed.some((text) => !text.trim())">Read off</UiAction>
      </form>
      <UiList v-if="plane.read_off.length" label="Numbers read off">
        <li v-for="(one, i) in plane.read_off" :key="i">
          <UiRow>
            <span class="ui-fill">
              {{ axes[0]?.label }} {{ shown(one.across, 0) }}, {{ axes[1]?.label }}
              {{ shown(one.depth, 1) }}
            </span>
            <UiAction
              kind="words"
              :label="`Take number ${i + 1} off`"
              @click="figure.edit((draft) => draft.space!.plane!.read_off.splice(i, 1))"
            >
              ×
            </UiAction>
          </UiRow>
        </li>
      </UiList>
    </UiSection>
    <UiSection heading="Equation and readings on the figure">
      <OnFigure />
      <Controls :of="READINGS.slice(1)" />
    </UiSection>
    <Lettering part="readings" />
    <UiAction kind="words" @click="remove">Take the plane off</UiAction>
  </template>
</template>
