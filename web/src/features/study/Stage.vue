<script setup lang="ts">
/** The middle of a study: the statement, the figure or the plate, and what stands below it. */
import { computed, ref, useTemplateRef } from 'vue'
import type { Problem } from '@/api/client'
import type { Tool } from '@/features/figure/dragging'
import { kindOf } from '@/kinds'
import { shownKind } from '@/features/study/kind-views'
import PlateStatement from '@/features/plates/PlateStatement.vue'
import PlateView from '@/features/plates/PlateView.vue'
import Residuals from '@/features/readings/Residuals.vue'
import RowsGrid from '@/features/rows/RowsGrid.vue'
import Statement from '@/features/statement/Statement.vue'
import VariableDrop from '@/features/statement/VariableDrop.vue'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiProgress from '@/ui/UiProgress.vue'
import Conflict from './Conflict.vue'
import Foot from './Foot.vue'
import HintNote from './HintNote.vue'
import { zoomingOf } from './zooming'

defineProps<{ problem: Problem | null }>()
const notice = defineModel<string>('notice', { required: true })

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
const view = useTemplateRef<unknown>('view')
const tool = ref<Tool>('point')
const shown = computed(() => shownKind(figure.drawn?.document ?? figure.document!))
/** Whether a trend is there, of whatever kind, that leaves residuals. */
const hasResiduals = (place: number): boolean =>
  figure.document !== null &&
  (kindOf(figure.document).fitted?.of(figure.document).length ?? 0) > place
/** All rows are those of the table that is open; some rows are those of their own. */
const listedTable = computed(() =>
  side.listed?.rows ? side.listed.table : (studies.openTable ?? side.listed?.table),
)
</script>

<template>
  <div class="stage">
    <div v-if="problem" class="wrong" role="alert">
      <strong>{{ problem.message }}</strong>
      <p>{{ problem.detail }}</p>
      <router-link :to="{ name: 'studies' }" class="link">All studies</router-link>
    </div>
    <template v-else-if="plate.document">
      <PlateStatement />
      <Conflict />
      <PlateView />
    </template>
    <template v-else-if="figure.document">
      <Statement />
      <div v-if="figure.problem" class="wrong" role="alert">
        <strong>{{ figure.problem.message }}</strong> {{ figure.problem.detail }}
        <UiAction kind="caution" @click="figure.refresh">Try again</UiAction>
      </div>
      <Conflict />
      <p v-if="notice" class="card notice" role="status">
        {{ notice }}
        <UiAction kind="words" @click="notice = ''">Close</UiAction>
      </p>
      <component :is="shown.view" ref="view" v-model:tool="tool">
        <HintNote />
        <VariableDrop
          v-if="side.dragged?.table === figure.document.table"
          :variable="side.dragged.name"
        />
        <Foot v-model:tool="tool" :zooming="zoomingOf(view)" />
      </component>
    </template>
    <div v-else-if="studies.study" class="card begin">
      <h1 class="ui-panel__title">
        {{ studies.tables.length ? 'No figure yet' : 'Bring data in' }}
      </h1>
      <p v-if="notice">{{ notice }}</p>
      <p v-else-if="studies.tables.length">Add a figure with + in the panel on the left.</p>
      <p v-else>
        Drop a file anywhere on this page, paste rows from a spreadsheet, or choose “Import a file”
        on the left: delimited text, a workbook, Parquet, Arrow, JSON or a data package. You check
        how it was read before it is imported. Or type a small table yourself.
      </p>
    </div>
    <UiProgress v-else late label="Opening the study …" />
    <Residuals
      v-if="side.residuals !== null && !side.listed && hasResiduals(side.residuals)"
      :trend="side.residuals"
      @close="side.residuals = null"
    />
    <RowsGrid
      v-if="side.listed && listedTable"
      :key="listedTable"
      :table="listedTable"
      :rows="side.listed.rows"
      :title="side.listed.title"
      @close="side.listed = null"
    />
  </div>
</template>

<style scoped>
.stage {
  display: flex;
  flex-direction: column;
  gap: 8px;
  height: 100%;
  padding: 12px 4px 8px;
  min-width: 0;
  min-height: 0;
}

.notice {
  display: flex;
  justify-content: space-between;
  gap: 16px;
}

.begin {
  margin: 12vh auto 0;
  max-width: 480px;
  display: grid;
  gap: 8px;
}
</style>
