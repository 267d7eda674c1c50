<script setup lang="ts">
/** The first rows of a file as they would be read, with the kind of each variable. */
import type { Kind, Preview } from '@/api/types'
import { computed } from 'vue'
import { dayText, GAP } from '@/render/geometry/ticks'
import { parsePlace } from '@/figure-model/parse'
import { countOf, KIND_SIGNS } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiTable from '@/ui/UiTable.vue'

const props = defineProps<{ preview: Preview }>()
const emit = defineEmits<{ kind: [variable: string, kind: Kind] }>()

const KINDS = (['number', 'category', 'date', 'text'] as const).map((value) => ({
  value,
  label: value,
}))

/** A value as the figure will say it: dates as on an axis. */
function asShown(cell: string | null, kind: Kind): string {
  if (cell === null) return 'missing'
  const place = kind === 'date' ? parsePlace(cell, true) : NaN
  return Number.isNaN(place) ? cell : dayText(place)
}

const alteredRows = computed(
  () => props.preview.altered.filter((row) => row.some((text) => text !== null)).length,
)
</script>

<template>
  <p v-if="alteredRows" class="quiet legend">
    <span class="altered">Grey</span>: the original text, where a value was converted; in
    {{ alteredRows }} of the first {{ countOf(preview.head.length, 'row') }}.
  </p>
  <div class="card rows" tabindex="0" role="region" aria-label="First rows">
    <UiTable>
      <thead>
        <tr>
          <th class="row-number" scope="col">Row</th>
          <th v-for="v in preview.variables" :key="v.name" scope="col" :class="v.kind">
            <strong>{{ v.name }}</strong>
            <span v-if="v.unit" class="quiet">{{ GAP + v.unit }}</span>
            <span class="ui-row">
              <span class="kind" aria-hidden="true">{{ KIND_SIGNS[v.kind] }}</span>
              <UiSelect
                bare
                :label="`Kind of ${v.name}`"
                :model-value="v.kind"
                :options="KINDS"
                @update:model-value="emit('kind', v.name, $event)"
              />
            </span>
            <span class="quiet">{{ v.missing ? `${v.missing} missing` : 'none missing' }}</span>
            <UiAction
              v-if="v.could_be_category"
              class="as-category"
              :label="`${v.name}: few values: a category? Read it as one`"
              @click="emit('kind', v.name, 'category')"
            >
              few values: a category?
            </UiAction>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(row, i) in preview.head" :key="i">
          <th class="row-number" scope="row">{{ i + 1 }}</th>
          <td
            v-for="(cell, j) in row"
            :key="j"
            :class="[preview.variables[j].kind, { missing: cell === null }]"
          >
            <span class="cell">
              <span>{{ asShown(cell, preview.variables[j].kind) }}</span>
              <span v-if="preview.altered[i][j] !== null" class="altered">
                <span class="out-of-sight">in the file: </span>{{ preview.altered[i][j] }}
              </span>
            </span>
          </td>
        </tr>
      </tbody>
    </UiTable>
  </div>
</template>

<style scoped>
.rows {
  overflow: auto;
  min-height: 0;
  padding: 0;
}

.rows :is(th, td) {
  white-space: nowrap;
}

.rows thead th {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--raised);
  vertical-align: top;
}

.kind {
  color: var(--accent);
  min-width: 22px;
}

.as-category {
  display: block;
}

.rows :deep(table) {
  width: auto;
  min-width: min(100%, 60rem);
}

td.number,
.row-number {
  text-align: right;
}

.row-number {
  color: var(--soft-ink);
}

.legend {
  margin: 0;
}

.altered {
  margin-left: 0.5em;
  padding: 0 4px;
  color: var(--soft-ink);
  font-style: normal;
  border-left: 2px solid var(--accent);
}

.cell {
  display: inline-flex;
  align-items: baseline;
}

/* Digits stand under one another at the right. */
td.number .cell {
  flex-direction: row-reverse;
}

td.number .altered {
  margin: 0 0.5em 0 0;
  border-left: 0;
  border-right: 2px solid var(--accent);
}

.missing {
  color: var(--soft-ink);
  font-style: italic;
}
</style>
