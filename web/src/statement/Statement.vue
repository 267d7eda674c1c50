<script setup lang="ts">
/** The sentence that says and sets what the figure shows. */
import { computed } from 'vue'
import { statementOf } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import RowsPart from './RowsPart.vue'
import Sentence from './Sentence.vue'

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const variables = computed(() => studies.tableOf(figure.document!.table)?.summary.variables ?? [])
const statement = computed(() =>
  statementOf({
    document: figure.document!,
    variables: variables.value,
    look: studies.variableOf,
    drawn: figure.drawn?.answer.counts.drawn ?? 0,
    edit: figure.edit,
    tune: side.tune,
    showPairs: () => side.show({ kind: 'pairs' }),
  }),
)
</script>

<template>
  <Sentence :statement="statement">
    <template #rows><RowsPart :variables="variables" /></template>
  </Sentence>
</template>
