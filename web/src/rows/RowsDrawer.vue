<script setup lang="ts">
/** The rows behind what was asked for. */
import { ref, watch } from 'vue'
import type { Row } from '@/api/types'
import { GAP } from '@/drawing/ticks'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { cellText, fetchRows } from './rows'

const MOST = 200

const props = defineProps<{ table: string; rows: number[]; title: string }>()
const emit = defineEmits<{ close: [] }>()

const studies = useStudy()
const side = useSide()
const found = ref<Row[]>([])

watch(
  () => [props.table, props.rows] as const,
  async ([table, rows]) => {
    found.value = rows.length ? await fetchRows(table, rows.slice(0, MOST)) : []
  },
  { immediate: true },
)

const variables = () => studies.tableOf(props.table)?.summary.variables ?? []
</script>

<template>
  <section class="card drawer" :aria-label="`Rows: ${title}`">
    <header class="drawer__head">
      <h2 class="drawer__title">{{ title }}</h2>
      <span v-if="rows.length > MOST" class="quiet">the first {{ MOST }} are shown</span>
      <button type="button" class="link" @click="emit('close')">Close</button>
    </header>
    <div class="drawer__rows" tabindex="0" role="region" aria-label="Rows">
      <table>
        <thead>
          <tr>
            <th scope="col">Row</th>
            <th v-for="v in variables()" :key="v.name" scope="col" :class="v.kind">
              {{ v.label }}<span v-if="v.unit" class="quiet">{{ GAP + v.unit }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in found" :key="row.row">
            <th scope="row">
              <button type="button" class="link" @click="side.tune(`row-${row.row}`)">
                {{ row.row + 1 }}
              </button>
            </th>
            <td
              v-for="v in variables()"
              :key="v.name"
              :class="[v.kind, { missing: row.values[v.name] === null }]"
            >
              {{ row.values[v.name] === null ? 'missing' : cellText(row.values[v.name]) }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.drawer {
  padding: 8px 12px;
  max-height: 210px;
  display: flex;
  flex-direction: column;
}

.drawer__head {
  display: flex;
  gap: 12px;
  align-items: baseline;
  justify-content: space-between;
}

.drawer__title {
  font-size: 15px;
  font-weight: 600;
  flex: 1;
}

.drawer__rows {
  overflow: auto;
  margin-top: 4px;
}

table {
  border-collapse: collapse;
  font-size: 14px;
}

th,
td {
  padding: 2px 12px 2px 4px;
  text-align: left;
  white-space: nowrap;
  border-bottom: 1px solid var(--line);
  font-weight: 400;
}

thead th {
  position: sticky;
  top: 0;
  background: var(--raised);
  font-weight: 600;
}

.number {
  text-align: right;
}

.missing {
  color: var(--caution);
}
</style>
