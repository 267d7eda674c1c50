<script setup lang="ts">
/** The next hint, at the foot of the figure, until it is used or dismissed. */
import UiAction from '@/ui/UiAction.vue'
import { useHints } from './hints'

const { hint, dismiss } = useHints()
</script>

<template>
  <div v-if="hint" class="over-foot">
    <p class="hint small" role="note">
      {{ hint.text }}
      <UiAction kind="words" label="Got it: hide this hint" @click="dismiss(hint.name)">
        Got it
      </UiAction>
    </p>
  </div>
</template>

<style scoped>
/* Between the figure and its foot: over the figure it would lie on the words of an axis. */
.over-foot {
  display: flex;
  justify-content: flex-end;
  padding-top: 8px;
}

.hint {
  display: flex;
  align-items: baseline;
  gap: 8px;
  padding: 2px 8px;
  border-radius: var(--radius);
  background: var(--chosen);
  color: var(--ink);
}
</style>
