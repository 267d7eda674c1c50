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
      <UiAction kind="words" label="Got it: no more of this hint" @click="dismiss(hint.name)">
        Got it
      </UiAction>
    </p>
  </div>
</template>

<style scoped>
/* At the foot of the page, where no figure has anything in its corner. */
.over-foot {
  position: relative;
  height: 0;
}

.hint {
  position: absolute;
  right: 12px;
  bottom: 8px;
  display: flex;
  align-items: baseline;
  gap: 8px;
  max-width: min(28rem, 60%);
  padding: 4px 8px;
  border-radius: var(--radius);
  background: var(--chosen);
  color: var(--ink);
  z-index: 2;
}
</style>
