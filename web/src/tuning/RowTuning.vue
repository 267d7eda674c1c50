<script setup lang="ts">
/** One row: its values; set aside and brought back. */
import { computed, ref, watch } from 'vue'
import { rowOf, type RowLine } from '@/rows/rows'
import { useFigure } from '@/stores/figure'

const props = defineProps<{ row: number }>()

const figure = useFigure()
const lines = ref<RowLine[]>([])
const isAside = computed(() => figure.document!.set_aside.includes(props.row))

watch(
  () => props.row,
  async (row) => {
    lines.value = await rowOf(figure.document!.table, row)
  },
  { immediate: true },
)

function toggle(): void {
  figure.edit((draft) => {
    draft.set_aside = isAside.value
      ? draft.set_aside.filter((row) => row !== props.row)
      : [...draft.set_aside, props.row]
  })
}
</script>

<template>
  <dl class="values">
    <template v-for="line in lines" :key="line.label">
      <dt>{{ line.label }}</dt>
      <dd>{{ line.value }}</dd>
    </template>
  </dl>
  <button type="button" class="choice" @click="toggle">
    {{ isAside ? 'Bring back' : 'Set aside' }}
  </button>
  <p class="quiet note">
    A row set aside is drawn hollow and pale and is left out of every fit on this figure.
  </p>
</template>

<style scoped>
.values {
  display: grid;
  grid-template-columns: auto auto;
  gap: 2px 12px;
  margin: 0;
  font-size: 14px;
}

dt {
  color: var(--soft-ink);
}

dd {
  margin: 0;
  text-align: right;
}

.note {
  font-size: 13.5px;
  line-height: 1.35;
}
</style>
