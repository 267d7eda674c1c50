<script setup lang="ts">
/** Below the figure: what is drawn and what is not, and the tools of the hand. */
import { computed } from 'vue'
import type { Tool } from '@/features/figure/dragging'
import { countOf, grouped } from '@/figure-model/words'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { offerActs } from '@/stores/commands'
import { swapAxes } from '@/kinds/scatterplot/changing'
import UiAction from '@/ui/UiAction.vue'
import { usePaper } from '@/ui/composables/paper'
import type { Zooming } from './zooming'

const props = defineProps<{
  /** Of the figure that is shown, where it can be zoomed. */
  zooming: Zooming | null
}>()
const tool = defineModel<Tool>('tool', { required: true })

const TOOLS: { tool: Tool; label: string; does: string; find: string; marks?: boolean }[] = [
  { tool: 'point', label: 'Select', does: 'one mark at a time', find: 'click select arrow' },
  {
    tool: 'box',
    label: 'Box',
    does: 'select marks in a box',
    find: 'rectangle select several area',
    marks: true,
  },
  {
    tool: 'rope',
    label: 'Free-form',
    does: 'select marks inside an outline',
    find: 'freehand select shape',
    marks: true,
  },
  { tool: 'move', label: 'Pan', does: 'drag the view', find: 'pan hand scroll' },
]

const { isDim, isDark } = usePaper()
const figure = useFigure()
const side = useSide()
const counts = computed(() => figure.drawn?.answer.counts ?? null)

/** Whether rows are never drawn one by one, however close one looks. */
const isCounted = computed(() => {
  const shown = figure.drawn
  return figure.needsRows && !shown?.answer.cells && !shown?.marks.row.length
})

/** How many marks there are; of a dataset, whose marks are cells from afar, how many rows. */
const drawnWords = computed(() => {
  const shown = figure.drawn
  if (!shown) return ''
  const { counts, cells } = shown.answer
  if (cells)
    return cells.rows < counts.drawn
      ? `${countOf(cells.rows, 'row')} in view, of ${grouped(counts.drawn)}; shaded by count`
      : `${countOf(counts.drawn, 'row')}, shaded by count`
  const some = shown.marks.row.length
  if (isCounted.value) return `${countOf(counts.drawn, 'row')}, counted`
  if (figure.isPart && some < counts.drawn)
    return `${countOf(some, 'mark')} in view, of ${countOf(counts.drawn, 'row')}`
  // Of a dataset that is neither counted nor seen from near some rows stand for all.
  return figure.needsRows && some < counts.drawn
    ? `${countOf(some, 'mark')}, a sample of ${countOf(counts.drawn, 'row')}`
    : `${countOf(counts.drawn, 'mark')} drawn`
})

/** Why a tool is off: cells are no marks that could be selected. */
function whyNot({ marks }: (typeof TOOLS)[number]): string {
  if (!marks) return ''
  if (figure.drawn?.answer.cells) return 'Zoom in until the rows themselves are drawn.'
  return isCounted.value ? figure.needsRows : ''
}

/** A note is written where it stands, on a figure; elsewhere in its panel. */
function addNote(): void {
  if (props.zooming) return props.zooming.writeNote()
  const place = figure.document!.notes.length
  figure.edit((draft) =>
    draft.notes.push({ text: 'Note', anchor: 'page', x: 0.45, y: 0.12, points_to: null }),
  )
  side.tune(`note-${place}`)
}

const list = (rows: number[] | null, title: string): void => {
  const table = figure.document?.table
  if (table) side.listed = { table, rows, title }
}

offerActs('Figure', () => {
  const { document } = figure
  if (!document) return []
  const noPair = document.kind === 'scatterplot' ? '' : 'This figure is not one of a pair.'
  const noTrend = document.trends.length || document.space?.plane ? '' : 'There is no trend yet.'
  return [
    {
      label: 'Swap the axes',
      find: 'x y exchange flip transpose turn round',
      why: noPair || (document.y.length > 1 ? 'There are several y variables.' : ''),
      does: () => figure.edit(swapAxes),
    },
    {
      label: 'Rows',
      find: 'table data grid values edit set aside ignore exclude outlier point list',
      does: () => list(null, 'Rows'),
    },
    ...TOOLS.map((one) => ({
      label: `${one.label}: ${one.does}`,
      find: one.find,
      why: whyNot(one),
      does: () => (tool.value = one.tool),
    })),
    {
      label: 'Dim the paper',
      find: 'dark white bright night theme background glare',
      why: isDark.value ? '' : 'The paper is dimmed in the dark theme only.',
      does: () => (isDim.value = !isDim.value),
    },
    { label: 'Add a note', find: 'annotation text arrow comment write', does: addNote },
    {
      label: 'Show all',
      find: 'zoom out reset whole all view',
      why: props.zooming ? '' : 'This figure is not zoomed.',
      does: () => props.zooming?.fit(),
    },
    {
      label: 'Read off the trend',
      find: 'where does it reach value at predict level dose estimate ec50 number solve',
      why: noTrend,
      does: () => side.seek(document.space?.plane ? 'plane' : 'trend-0', 'read off'),
    },
    {
      label: 'Compare trends',
      find: 'best model family which curve fits aic criterion',
      why: noPair || noTrend || figure.needsRows,
      does: () => side.show({ kind: 'compare', trend: 0, group: null }),
    },
    {
      label: 'Residuals',
      find: 'diagnostics assumptions check scatter normal',
      why: noTrend || figure.needsRows,
      does: () => (side.residuals = 0),
    },
    {
      label: 'Equation on the figure',
      find: 'formula print readings r squared text',
      why: noPair || noTrend,
      does: () => side.seek('trend-0', 'on the figure'),
    },
  ]
})
</script>

<template>
  <footer v-if="counts" class="foot" data-opens>
    <p data-testid="counts">
      {{ drawnWords
      }}<template v-if="counts.filtered"> · {{ counts.filtered }} hidden by the filter</template
      ><template v-if="counts.set_aside">
        ·
        <UiAction kind="words" @click="list(figure.drawn!.document.set_aside, 'Rows set aside')">
          {{ counts.set_aside }} set aside
        </UiAction></template
      ><template v-for="part in counts.not_drawn" :key="part.reason">
        ·
        <template v-if="!part.rows.length"
          >{{ countOf(part.count, 'row') }} {{ part.reason }}</template
        >
        <UiAction
          v-else
          kind="words"
          @click="list(part.rows, `${countOf(part.count, 'row')} ${part.reason}`)"
        >
          {{ countOf(part.count, 'row') }} {{ part.reason }}
        </UiAction> </template
      ><template v-if="zooming?.off"> · {{ zooming.off }} cannot be shown on this scale</template
      ><template v-if="zooming?.beyond">
        · {{ countOf(zooming.beyond, 'mark') }} beyond the axis ends</template
      ><template v-if="zooming?.unnamed">
        · {{ countOf(zooming.unnamed, 'label') }} without room</template
      ><template v-if="zooming?.unread">
        · {{ countOf(zooming.unread, 'reading') }} without room on the figure</template
      >
    </p>
    <div class="tools" role="toolbar" aria-label="Tools on the figure">
      <UiAction
        class="ui-tool"
        :pressed="side.listed !== null"
        @click="side.listed ? (side.listed = null) : list(null, 'Rows')"
      >
        Rows
      </UiAction>
      <UiAction
        v-for="one in TOOLS"
        :key="one.tool"
        class="ui-tool"
        :pressed="tool === one.tool"
        :off="whyNot(one)"
        @click="tool = one.tool"
      >
        {{ one.label }}
      </UiAction>
      <template v-if="zooming">
        <UiAction class="ui-tool" @click="addNote">+ note</UiAction>
        <UiAction
          v-if="isDark"
          class="ui-tool"
          tip="Darker paper on this screen; exports stay white"
          :pressed="isDim"
          @click="isDim = !isDim"
        >
          Dim
        </UiAction>
        <UiAction class="ui-tool" label="Zoom out" @click="zooming.zoomOut()">−</UiAction>
        <UiAction class="ui-tool" label="Zoom in" @click="zooming.zoomIn()">+</UiAction>
        <UiAction class="ui-tool" :disabled="zooming.isHome" @click="zooming.fit()">
          Show all
        </UiAction>
      </template>
    </div>
  </footer>
</template>

<style scoped>
.foot {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 4px 12px;
  font-size: var(--text-small);
  line-height: 1.3;
  color: var(--soft-ink);
  padding: 8px 4px 0;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 0;
}
</style>
