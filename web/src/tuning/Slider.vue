<script setup lang="ts">
/** A number set by hand: the picture moves while it is dragged. */
defineProps<{
  label: string
  value: number
  min: number
  max: number
  step?: number
  /** The value as it reads. */
  text: string
}>()
const emit = defineEmits<{ set: [value: number] }>()
</script>

<template>
  <div class="slider">
    <span>{{ label }}</span><output>{{ text }}</output>
    <input
      type="range"
      :aria-label="label"
      :aria-valuetext="text"
      :min="min"
      :max="max"
      :step="step ?? 1"
      :value="value"
      @input="emit('set', Number(($event.target as HTMLInputElement).value))"
    />
  </div>
</template>

<style scoped>
.slider {
  display: grid;
  grid-template-columns: 1fr auto;
  font-size: 14px;
  color: var(--soft-ink);
}

.slider input {
  grid-column: 1 / -1;
  accent-color: var(--accent);
  width: 100%;
}

.slider output {
  color: var(--ink);
}
</style>
