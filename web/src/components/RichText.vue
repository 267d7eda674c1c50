<script setup lang="ts">
/** Text with raised and lowered parts, as on a figure. */
import { computed } from 'vue'
import { parseRuns } from '@/render/text/text'

const props = defineProps<{ text: string }>()
const runs = computed(() => parseRuns(props.text))
</script>

<template>
  <span
    ><template v-for="(run, i) in runs" :key="i"
      ><sup v-if="run.place === 'raised'">{{ run.text }}</sup
      ><sub v-else-if="run.place === 'lowered'">{{ run.text }}</sub
      ><template v-else>{{ run.text }}</template></template
    ></span
  >
</template>

<style scoped>
sup,
sub {
  font-size: 0.72em;
  line-height: 0;
}
</style>
