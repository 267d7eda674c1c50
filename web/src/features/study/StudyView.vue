<script setup lang="ts">
/** A study: sidebar on the left, statement and figure in the middle, readings on the right. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import Find from '@/features/commands/Find.vue'
import { figureName } from '@/kinds'
import StudySidebar from '@/features/sidebar/StudySidebar.vue'
import { plateName } from '@/plates/names'
import ImportView from '@/features/import/ImportView.vue'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { useUndo } from '@/stores/undo'
import Announcer from './Announcer.vue'
import { useArriving } from './file-drop'
import { useKeys } from './keys'
import KeyList from './KeyList.vue'
import { useOpening } from './opening'
import UiFrame from '@/ui/UiFrame.vue'
import SideOutlet from './SideOutlet.vue'
import Stage from './Stage.vue'
import StudyBar from './StudyBar.vue'

const props = defineProps<{ studyId: string; figureId?: string; plateId?: string }>()

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
const opening = useOpening(
  () => props,
  (sentence) => (notice.value = sentence),
)
const { problem, to, toPlate } = opening
const arriving = useArriving(to)
const { file, dropping, notice } = arriving
const { undo, redo } = useUndo(opening.show, (sentence) => (notice.value = sentence))
/** Whether the list of keys is open. */
const keys = ref(false)
useKeys(undo, redo, () => (keys.value = true))

/** What is shown beside the figure, where that is more than its readings. */
const called = computed(() => (side.shown.kind === 'readings' ? null : side.shown))

const heading = computed(() =>
  plate.document
    ? plateName(plate.document, studies.figures, studies.variableOf)
    : figure.document
      ? figureName(figure.document, studies.variableOf)
      : studies.study?.name,
)
watch(heading, (text) => (document.title = text ? `${text} · Yarrowdew` : 'Yarrowdew'))

/** The page goes away, perhaps to come back as it is. */
function hidden(): void {
  figure.leave()
  plate.leave()
}

function shown(event: PageTransitionEvent): void {
  if (!event.persisted) return
  void figure.comeBack()
  void plate.comeBack()
}

/** What the server did not take would be lost: whoever closes the page is asked. */
function unloading(event: BeforeUnloadEvent): void {
  if (figure.isAtRisk() || plate.isAtRisk()) event.preventDefault()
}

onMounted(() => {
  window.addEventListener('pagehide', hidden)
  window.addEventListener('pageshow', shown)
  window.addEventListener('beforeunload', unloading)
})
onBeforeUnmount(() => {
  window.removeEventListener('pagehide', hidden)
  window.removeEventListener('pageshow', shown)
  window.removeEventListener('beforeunload', unloading)
  figure.close()
  plate.close()
})
</script>

<template>
  <div
    class="study"
    @dragenter.prevent="arriving.dragged"
    @dragover.prevent="arriving.dragged"
    @drop.prevent="arriving.dropped"
  >
    <Announcer />
    <UiFrame left="Data and figures" right="Readings" :calls="called">
      <template #bar="{ isNarrow }">
        <StudyBar :is-narrow="isNarrow" @undo="undo" @redo="redo" @keys="keys = true" />
      </template>
      <template v-if="figure.document || plate.document" #find><Find /></template>
      <template #left>
        <!-- What a study holds is not known before it is there. -->
        <StudySidebar
          v-if="studies.study"
          data-opens
          @open="to"
          @file="arriving.read"
          @type="arriving.typeTable"
          @taken="arriving.taken"
          @plate="toPlate"
          @delete="opening.deleteOpen"
        />
      </template>
      <ImportView
        v-if="file"
        :file="file.file"
        :again="file.again"
        @taken="arriving.taken"
        @replaced="arriving.replaced"
        @left="arriving.left"
      />
      <Stage v-else v-model:notice="notice" :problem="problem" />
      <template v-if="!file" #right>
        <SideOutlet @file="arriving.read" @taken="arriving.taken" @plate="toPlate" />
      </template>
    </UiFrame>
    <KeyList v-model="keys" />
    <div v-if="dropping" class="drop" @dragleave="dropping = false">Drop the file to import it</div>
  </div>
</template>

<style scoped>
.study {
  display: contents;
  color: var(--ink);
}

.drop {
  position: fixed;
  inset: 8px;
  z-index: 100;
  display: grid;
  place-items: center;
  border: 2px dashed var(--accent);
  border-radius: var(--radius);
  background: color-mix(in srgb, var(--ground) 88%, transparent);
  font-size: var(--text-head);
  font-weight: 600;
  color: var(--accent);
}
</style>
