<script setup lang="ts">
/** A scatterplot matrix: its regions, its order, and how its marks look. */
import Controls from './Controls.vue'
import { MARKS_OF_MATRIX, REGIONS } from '@/figure-model/controls/matrix'
</script>

<template>
  <Controls :of="REGIONS" />
  <Controls :of="MARKS_OF_MATRIX" />
</template>
