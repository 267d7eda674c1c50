<script setup lang="ts">
/** A name that is typed to keep something under it. */
import { ref } from 'vue'
import UiAction from './UiAction.vue'
import UiRow from './UiRow.vue'

withDefaults(
  defineProps<{
    /** What the name is for. */
    label: string
    /** What is done with it. */
    action: string
    placeholder?: string
    maxlength?: number
  }>(),
  { placeholder: 'Name', maxlength: 200 },
)
const emit = defineEmits<{ named: [name: string] }>()

const name = ref('')

function submit(): void {
  const said = name.value.trim()
  if (!said) return
  emit('named', said)
  name.value = ''
}
</script>

<template>
  <form @submit.prevent="submit">
    <UiRow>
      <v-text-field
        v-model="name"
        class="ui-fill"
        :aria-label="label"
        :placeholder="placeholder"
        :maxlength="maxlength"
      />
      <UiAction type="submit" :disabled="!name.trim()">{{ action }}</UiAction>
    </UiRow>
  </form>
</template>
