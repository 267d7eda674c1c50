<script setup lang="ts">
/** The bar of a study: its name, whether it is saved, undo, and handing on. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import { useHistory } from '@/stores/history'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { figureName } from '@/kinds'
import { plateName } from '@/plates/names'
import Find from '@/features/commands/Find.vue'
import { offerActs } from '@/stores/commands'
import UiAction from '@/ui/UiAction.vue'
import UiText from '@/ui/UiText.vue'

defineProps<{
  /** On a phone: what can wait stands elsewhere. */
  isNarrow?: boolean
}>()
const emit = defineEmits<{ undo: []; redo: []; keys: [] }>()

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
const history = useHistory()

const saved = computed((): string => {
  const states = [figure.saving, plate.saving]
  if (states.includes('refused')) return `Not saved: ${figure.refusal || plate.refusal}`
  if (states.includes('failed')) return 'Not saved yet; trying again'
  if (states.includes('saving') || studies.writing) return 'Saving …'
  // Of the document that is open its own view says it, and asks which version is to stay.
  const waiting = [
    ...studies.figures
      .filter(({ id }) => figure.conflicts.includes(id))
      .map((one) => figureName(one.document, studies.variableOf)),
    ...studies.plates
      .filter(({ id }) => plate.conflicts.includes(id))
      .map((one) => plateName(one.document, studies.figures, studies.variableOf)),
  ]
  return waiting.length
    ? `Not saved, as it changed elsewhere: ${waiting.join('; ')}. Open it to choose a version.`
    : ''
})

offerActs('Study', () => [
  {
    label: 'Undo',
    find: 'take back mistake revert',
    why: history.canUndo ? '' : 'Nothing was changed yet.',
    does: () => emit('undo'),
  },
  {
    label: 'Redo',
    find: 'again',
    why: history.canRedo ? '' : 'Nothing was taken back.',
    does: () => emit('redo'),
  },
  {
    label: 'Keys',
    find: 'keyboard shortcut help list',
    does: () => emit('keys'),
  },
  {
    label: 'Export',
    find: 'save export download image png svg pdf jpeg picture print copy clipboard poster slide transparent background caption script command python',
    does: () => side.show({ kind: 'export' }),
  },
  {
    label: 'Share a page',
    find: 'publish send link web html colleague',
    does: () => side.show({ kind: 'share' }),
  },
])

function rename(typed: string): void {
  const name = typed.trim()
  if (name && name !== studies.study?.name) void studies.rename(name)
}
</script>

<template>
  <router-link :to="{ name: 'studies' }" class="bar__name">{{
    isNarrow ? 'Studies' : 'Yarrowdew'
  }}</router-link>
  <UiText
    v-if="studies.study && !isNarrow"
    bare
    class="ui-quiet bar__study"
    :style="{ width: `${Math.max(10, studies.study.name.length + 4)}ch` }"
    label="Name of the study"
    :model-value="studies.study.name"
    :maxlength="200"
    @update:model-value="rename"
  />
  <Find v-if="(figure.document || plate.document) && !isNarrow" />
  <span class="ui-fill quiet" role="status">{{ saved }}</span>
  <router-link v-if="!isNarrow" :to="{ name: 'guide' }" class="link">Guide</router-link>
  <UiAction
    v-if="!isNarrow"
    kind="words"
    label="Keys (?)"
    tip="What keys do (?)"
    @click="emit('keys')"
  >
    ?
  </UiAction>
  <UiAction :disabled="!history.canUndo" tip="Undo (Ctrl+Z)" @click="emit('undo')">Undo</UiAction>
  <UiAction :disabled="!history.canRedo" tip="Redo (Ctrl+Shift+Z)" @click="emit('redo')">
    Redo
  </UiAction>
  <UiAction
    kind="main"
    :disabled="!figure.drawn && !plate.document"
    :aria-expanded="side.shown.kind === 'export'"
    @click="side.toggle({ kind: 'export' })"
  >
    Export
  </UiAction>
</template>

<style scoped>
.bar__name {
  font-size: var(--text-head);
  font-weight: 700;
  color: var(--accent);
  text-decoration: none;
}

.bar__study {
  max-width: 40ch;
}
</style>
