<script setup lang="ts">
/** The bar of a study: its name, whether it is saved, undo, and handing on. */
import { computed } from 'vue'
import { useFigure } from '@/stores/figure'
import { useHistory } from '@/stores/history'
import { usePlate } from '@/stores/plate'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiText from '@/ui/UiText.vue'

const emit = defineEmits<{ undo: []; redo: [] }>()

const studies = useStudy()
const figure = useFigure()
const plate = usePlate()
const side = useSide()
const history = useHistory()

const saved = computed((): string => {
  const states = [figure.saving, plate.saving]
  if (states.includes('refused')) return `Not saved: ${figure.refusal || plate.refusal}`
  if (states.includes('failed')) return 'Not saved yet; trying again'
  return states.includes('saving') || studies.writing ? 'Saving …' : ''
})

function rename(typed: string): void {
  const name = typed.trim()
  if (name && name !== studies.study?.name) void studies.rename(name)
}
</script>

<template>
  <router-link :to="{ name: 'studies' }" class="bar__name">Yarrowdew</router-link>
  <UiText
    v-if="studies.study"
    bare
    class="ui-quiet bar__study"
    :style="{ width: `${Math.max(10, studies.study.name.length + 4)}ch` }"
    label="Name of the study"
    :model-value="studies.study.name"
    :maxlength="200"
    @update:model-value="rename"
  />
  <span class="ui-fill quiet" role="status">{{ saved }}</span>
  <UiAction :disabled="!history.canUndo" tip="Undo (Ctrl+Z)" @click="emit('undo')">Undo</UiAction>
  <UiAction :disabled="!history.canRedo" tip="Redo (Ctrl+Shift+Z)" @click="emit('redo')">
    Redo
  </UiAction>
  <UiAction
    kind="main"
    :disabled="!figure.drawn && !plate.document"
    :aria-expanded="side.shown.kind === 'hand-on'"
    @click="side.toggle({ kind: 'hand-on' })"
  >
    Hand on
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
