<script setup lang="ts">
/** The sentence that says and sets what the figure shows. */
import { computed } from 'vue'
import { statementOf } from '@/kinds'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { statementContext } from '@/stores/statement-context'
import RowsPart from './RowsPart.vue'
import Sentence from '@/components/Sentence.vue'

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const statement = computed(() => statementOf(statementContext(figure, studies, side)))
const variables = computed(() => studies.tableOf(figure.document!.table)?.summary.variables ?? [])
</script>

<template>
  <Sentence :statement="statement">
    <template #rows><RowsPart :variables="variables" /></template>
  </Sentence>
</template>
