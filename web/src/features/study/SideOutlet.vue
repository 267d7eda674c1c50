<script setup lang="ts">
/** What stands beside the figure: a map from what is shown to its component. */
import { computed, type Component } from 'vue'
import type { TableTaken } from '@/api/types'
import SelectionPanel from '@/features/figure/SelectionPanel.vue'
import ExportPanel from '@/features/export/ExportPanel.vue'
import SharePanel from '@/features/export/SharePanel.vue'
import { shownKind } from '@/features/study/kind-views'
import DerivePanel from '@/features/sidebar/DerivePanel.vue'
import TablePanel from '@/features/sidebar/TablePanel.vue'
import VariablePanel from '@/features/sidebar/VariablePanel.vue'
import NewPlate from '@/features/plates/NewPlate.vue'
import PlateTuning from '@/features/plates/PlateTuning.vue'
import CompareForms from '@/features/readings/CompareForms.vue'
import Pairs from '@/features/readings/Pairs.vue'
import WorthALook from '@/features/readings/WorthALook.vue'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSelection } from '@/stores/selection'
import { useSide, type Shown } from '@/stores/side'
import { useStudy } from '@/stores/study'
import Tuning from '@/features/inspector/Tuning.vue'

const emit = defineEmits<{
  file: [file: File, again: string | null]
  taken: [made: TableTaken]
  plate: [id: string]
}>()

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
const selection = useSelection()

interface RenderState {
  is: Component
  props?: object
  on?: Record<string, (...told: never[]) => void>
}

type Of<Kind extends Shown['kind']> = Extract<Shown, { kind: Kind }>

const hasPicture = (): boolean => Boolean(figure.drawn ?? plate.document)
const derived = (name: string | null): void =>
  name ? side.show({ kind: 'variable', name }) : side.rest()

/** What each needs to stand there; null where it is not there. */
const STANDING: { [Kind in Shown['kind']]?: (shown: Of<Kind>) => RenderState | null } = {
  derive: () =>
    studies.table
      ? { is: DerivePanel, props: { key: studies.table.id }, on: { done: derived } }
      : null,
  table: () => {
    const { table } = studies
    return table
      ? {
          is: TablePanel,
          props: { key: table.id, table },
          on: {
            again: (file: File) => emit('file', file, table.id),
            taken: (made: TableTaken) => emit('taken', made),
          },
        }
      : null
  },
  variable: ({ name }) => {
    const { table } = studies
    const variable = table?.summary.variables.find((one) => one.name === name)
    return table && variable
      ? { is: VariablePanel, props: { key: `${table.id} ${name}`, table, variable } }
      : null
  },
  selection: () => {
    const { document, id } = figure
    return figure.drawn && document && id && selection.rowsIn(document.table).size
      ? { is: SelectionPanel, props: { key: id, figure: id, table: document.table } }
      : null
  },
  compare: ({ trend, group }) =>
    figure.document?.trends[trend] ? { is: CompareForms, props: { trend, group } } : null,
  'new-plate': () => ({ is: NewPlate, on: { made: (id: string) => emit('plate', id) } }),
  export: () => (hasPicture() ? { is: ExportPanel } : null),
  share: () => (hasPicture() ? { is: SharePanel } : null),
  tuning: ({ part }) => (figure.drawn ? { is: Tuning, props: { part } } : null),
  pairs: () => ({ is: Pairs }),
}

const standing = computed((): RenderState | null => {
  const make = STANDING[side.shown.kind] as ((shown: Shown) => RenderState | null) | undefined
  const found = make?.(side.shown)
  if (found) return found
  if (plate.document) return { is: PlateTuning }
  if (!figure.document) return null
  return {
    is: shownKind(figure.drawn?.document ?? figure.document).readings,
    on: {
      rows: (rows: number[], title: string) => {
        const table = figure.document?.table
        if (table) side.listed = { table, rows, title }
      },
      file: (file: File) => emit('file', file, null),
    },
  }
})
</script>

<template>
  <aside class="outlet" aria-label="Readings and tuning" data-opens>
    <WorthALook
      v-if="
        side.arrived && side.shown.kind === 'readings' && figure.document?.table === side.arrived
      "
      :table="side.arrived"
      @taken="emit('taken', $event)"
    />
    <component :is="standing.is" v-if="standing" v-bind="standing.props" v-on="standing.on ?? {}" />
  </aside>
</template>

<style scoped>
.outlet {
  display: flex;
  flex-direction: column;
  gap: 8px;
  box-sizing: border-box;
  min-height: 100%;
  padding: 12px 8px;
}
</style>
