<script setup lang="ts">
/** A colour: one of the eight, or an own one; or none, where that means something. */
import { CATEGORIES, toHex } from '@/drawing/colours'

defineProps<{
  label: string
  value: string | null
  /** What it is called to have no colour of its own. */
  none?: string
}>()
const emit = defineEmits<{ set: [value: string | null] }>()

const NAMES = ['fern', 'rust', 'yarrow', 'dusk', 'lilac', 'lichen', 'violet', 'heron']
</script>

<template>
  <div class="colour" role="group" :aria-label="label">
    <span class="colour__label">{{ label }}</span>
    <button
      v-if="none"
      type="button"
      class="choice"
      :aria-pressed="value === null"
      @click="emit('set', null)"
    >
      {{ none }}
    </button>
    <button
      v-for="(colour, i) in CATEGORIES"
      :key="i"
      type="button"
      class="colour__swatch"
      :style="{ background: toHex(colour) }"
      :aria-label="NAMES[i]"
      :title="NAMES[i]"
      :aria-pressed="value === toHex(colour)"
      @click="emit('set', toHex(colour))"
    ></button>
    <input
      type="color"
      :aria-label="`Own ${label.toLowerCase()}`"
      :value="value ?? '#1d2b2a'"
      @input="emit('set', ($event.target as HTMLInputElement).value)"
    />
  </div>
</template>

<style scoped>
.colour {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  align-items: center;
}

.colour__label {
  flex-basis: 100%;
  font-size: 13.5px;
  color: var(--soft-ink);
}

.colour__swatch {
  width: 19px;
  height: 19px;
  border-radius: 4px;
  cursor: pointer;
}

.colour__swatch[aria-pressed='true'] {
  box-shadow:
    0 0 0 2px var(--raised),
    0 0 0 4px var(--accent);
}

.colour input {
  width: 26px;
  height: 22px;
  padding: 0;
  border: 1px solid var(--line);
  border-radius: 4px;
}
</style>
