<script setup lang="ts">
/** Words: a draft while the field has the focus. Taken over when it is left, or with every letter. */
import { useId } from 'vue'
import { VTextarea } from 'vuetify/components/VTextarea'
import { VTextField } from 'vuetify/components/VTextField'
import { useDraft } from '@/ui/composables/draft'
import UiField from './UiField.vue'

const props = defineProps<{
  label: string
  modelValue: string
  /** Without a label of its own above it. */
  bare?: boolean
  placeholder?: string
  maxlength?: number
  hint?: string
  /** What is wrong with what was typed last. */
  error?: string
  lines?: number
  numeric?: boolean
  search?: boolean
  disabled?: boolean
  /** It can be read and copied, and not changed. */
  fixed?: boolean
}>()
const emit = defineEmits<{
  /** With every letter. */
  typed: [text: string]
  /** When the field is left, or Enter is pressed. */
  'update:modelValue': [text: string]
}>()

const id = useId()
const { shown, typed, changed, focused, key } = useDraft(
  () => props.modelValue,
  (text) => emit('update:modelValue', text),
  (text) => emit('typed', text),
)
</script>

<template>
  <component
    :is="bare ? 'div' : UiField"
    :label="label"
    :hint="hint"
    :error="error"
    :error-id="`${id}-error`"
    class="ui-text"
  >
    <component
      :is="lines ? VTextarea : VTextField"
      :model-value="shown"
      :aria-label="label"
      :placeholder="placeholder"
      :maxlength="maxlength"
      :disabled="disabled"
      :readonly="fixed"
      :rows="lines"
      :type="lines ? undefined : search ? 'search' : 'text'"
      :inputmode="numeric ? 'decimal' : undefined"
      :error="Boolean(error)"
      :aria-invalid="Boolean(error)"
      :aria-describedby="error ? `${id}-error` : undefined"
      @update:model-value="typed"
      @update:focused="focused"
      @change="changed"
      @keydown.capture="key"
    />
    <span v-if="bare && error" :id="`${id}-error`" class="ui-field__error" role="alert">{{
      error
    }}</span>
  </component>
</template>
