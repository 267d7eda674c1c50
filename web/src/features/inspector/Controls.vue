<script setup lang="ts">
/** Controls of the figure as they are declared: those that apply. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import ControlField from '@/components/ControlField.vue'
import { applies, controlKey, type Control, type Scope } from '@/figure-model/controls/control'

const props = defineProps<{ of: readonly Control[] }>()

const figure = useFigure()
const side = useSide()
const studies = useStudy()
const scope = computed((): Scope => ({
  document: figure.document!,
  drawn: figure.drawn,
  variables: studies.tableOf(figure.document!.table)?.summary.variables ?? [],
  needsRows: figure.needsRows,
}))
const shown = computed(() => props.of.filter((control) => applies(control, scope.value)))
</script>

<template>
  <ControlField
    v-for="control in shown"
    :key="control.at + control.label"
    :control="control"
    :scope="scope"
    :data-lit="side.sought === controlKey(control) || undefined"
    @edit="figure.edit"
  />
</template>
