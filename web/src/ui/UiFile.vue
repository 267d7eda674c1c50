<script setup lang="ts">
/** A file that is chosen by a button. */
import { useTemplateRef } from 'vue'
import UiAction from './UiAction.vue'

defineProps<{
  action: string
  /** What the file is, for a screen reader. */
  label: string
  accept?: string
  busy?: boolean
  kind?: 'button' | 'words' | 'main'
}>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ picked: [file: File] }>()

const picker = useTemplateRef('picker')

function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  // The same file may be chosen again.
  input.value = ''
  if (file) emit('picked', file)
}
</script>

<template>
  <UiAction v-bind="$attrs" :kind="kind" :busy="busy" @click="picker?.click()">{{
    action
  }}</UiAction>
  <input
    ref="picker"
    type="file"
    class="out-of-sight"
    tabindex="-1"
    :accept="accept"
    :aria-label="label"
    @change="picked"
  />
</template>
