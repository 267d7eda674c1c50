<script setup lang="ts">
/** Below the figure: what is drawn and what is not, and the tools of the hand. */
import { computed } from 'vue'
import type { Tool } from '@/figure/dragging'
import { countOf } from '@/model/words'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import UiAction from '@/ui/UiAction.vue'
import type { Zooming } from './zooming'

defineProps<{
  /** Of the figure that is shown, where it can be zoomed. */
  zooming: Zooming | null
}>()
const tool = defineModel<Tool>('tool', { required: true })

const TOOLS: { tool: Tool; label: string }[] = [
  { tool: 'point', label: 'Point' },
  { tool: 'box', label: 'Box' },
  { tool: 'rope', label: 'Rope' },
  { tool: 'move', label: 'Move' },
]

const figure = useFigure()
const side = useSide()
const counts = computed(() => figure.drawn?.answer.counts ?? null)

/** A note starts in the upper middle of the page, and is dragged from there. */
function addNote(): void {
  const place = figure.document!.notes.length
  figure.edit((draft) =>
    draft.notes.push({ text: 'Note', anchor: 'page', x: 0.45, y: 0.12, points_to: null }),
  )
  side.tune(`note-${place}`)
}

const list = (rows: number[] | null, title: string): void => {
  side.listed = { rows, title }
}
</script>

<template>
  <footer v-if="counts" class="foot">
    <p data-testid="counts">
      {{ countOf(counts.drawn, 'mark') }} drawn<template v-if="counts.filtered">
        · {{ counts.filtered }} left out by the rows chosen</template
      ><template v-if="counts.set_aside">
        ·
        <UiAction kind="words" @click="list(figure.drawn!.document.set_aside, 'Rows set aside')">
          {{ counts.set_aside }} set aside
        </UiAction></template
      ><template v-for="part in counts.not_drawn" :key="part.reason">
        ·
        <UiAction
          kind="words"
          @click="list(part.rows, `${countOf(part.count, 'row')} ${part.reason}`)"
        >
          {{ part.count }} {{ part.reason }}
        </UiAction> </template
      ><template v-if="zooming?.off">
        · {{ zooming.off }} that this scale has no place for</template
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
        @click="tool = one.tool"
      >
        {{ one.label }}
      </UiAction>
      <template v-if="zooming">
        <UiAction class="ui-tool" @click="addNote">+ note</UiAction>
        <UiAction class="ui-tool" label="Zoom out" @click="zooming.zoomOut()">−</UiAction>
        <UiAction class="ui-tool" label="Zoom in" @click="zooming.zoomIn()">+</UiAction>
        <UiAction class="ui-tool" :disabled="zooming.isHome" @click="zooming.fit()">
          Fit to data
        </UiAction>
      </template>
    </div>
  </footer>
</template>

<style scoped>
.foot {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  font-size: var(--text-small);
  line-height: 1.3;
  color: var(--soft-ink);
  padding: 8px 4px 0;
}

.tools {
  display: flex;
  flex: none;
  gap: 0;
  white-space: nowrap;
}
</style>
