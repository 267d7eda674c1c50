<script setup lang="ts">
/** The sentence of the plate that is open. */
import { computed } from 'vue'
import { figureName } from '@/kinds'
import Sentence from '@/components/Sentence.vue'
import { usePlate } from '@/stores/plate'
import { useStudy } from '@/stores/study'
import { plateStatement } from '@/plates/statement'

const plate = usePlate()
const studies = useStudy()
const figures = computed(() =>
  studies.figures.map(({ id, document }) => ({
    label: figureName(document, studies.variableOf),
    value: id,
  })),
)
const statement = computed(() => plateStatement(plate.document!, figures.value, plate.edit))
</script>

<template>
  <Sentence :statement="statement" />
</template>
