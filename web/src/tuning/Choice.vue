<script setup lang="ts" generic="Value extends string | number | null">
/** One of a few: all are seen, and one click takes one. */
defineProps<{
  label: string
  value: Value
  options: readonly { value: Value; label: string }[]
}>()
const emit = defineEmits<{ set: [value: Value] }>()
</script>

<template>
  <div class="one-of" role="group" :aria-label="label">
    <span class="one-of__label">{{ label }}</span>
    <span class="one-of__choices">
      <button
        v-for="option in options"
        :key="String(option.value)"
        type="button"
        class="choice"
        :aria-pressed="option.value === value"
        @click="emit('set', option.value)"
      >
        {{ option.label }}
      </button>
    </span>
  </div>
</template>

<style scoped>
.one-of {
  display: grid;
  gap: 3px;
}

.one-of__label {
  font-size: 13.5px;
  color: var(--soft-ink);
}

.one-of__choices {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
</style>
