<script setup lang="ts">
/** A control under its label, with a hint below it, or what is wrong with what it holds. */
defineProps<{ label: string; hint?: string; error?: string; errorId?: string }>()
</script>

<template>
  <div class="ui-field">
    <span class="ui-field__label" aria-hidden="true">{{ label }}</span>
    <slot />
    <span v-if="error" :id="errorId" class="ui-field__error" role="alert">{{ error }}</span>
    <span v-else-if="hint" class="ui-field__hint">{{ hint }}</span>
  </div>
</template>
