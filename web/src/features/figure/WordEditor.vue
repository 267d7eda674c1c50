<script setup lang="ts">
/** Words of the figure, edited where they stand. */
import { nextTick, onMounted, ref, useTemplateRef } from 'vue'
import type { EditedWords } from './editing'

const props = defineProps<{ words: EditedWords; scale: number }>()
const emit = defineEmits<{ done: [text: string | null] }>()

const field = useTemplateRef('field')
const text = ref(props.words.text)
let ended = false

function end(kept: string | null): void {
  if (ended) return
  ended = true
  emit('done', kept)
}

function key(event: KeyboardEvent): void {
  if (event.key === 'Enter') end(text.value)
  else if (event.key === 'Escape') end(null)
  else return
  event.preventDefault()
  event.stopPropagation()
}

onMounted(async () => {
  await nextTick()
  field.value?.focus()
  field.value?.select()
})
</script>

<template>
  <input
    ref="field"
    v-model="text"
    class="editor"
    maxlength="500"
    :aria-label="words.label"
    :style="{
      left: `${words.box.x * scale}px`,
      top: `${words.box.y * scale}px`,
      width: `${words.box.width * scale}px`,
    }"
    @keydown="key"
    @blur="end(text)"
  />
</template>

<style scoped>
.editor {
  position: absolute;
  background: var(--paper);
  color: var(--paper-ink);
  border: 1.5px solid var(--paper-accent);
  border-radius: var(--radius-small);
  padding: 2px 8px;
  min-width: 160px;
}
</style>
