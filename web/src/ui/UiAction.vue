<script setup lang="ts">
/** Something that can be done: a button, words alone, a row, or one of several that are on or off. */
import UiTip from './UiTip.vue'

withDefaults(
  defineProps<{
    kind?: 'button' | 'words' | 'main' | 'grave' | 'caution' | 'row'
    /** For a screen reader, where the words do not say all. */
    label?: string
    /** Whether it is on, where it can be on or off. */
    pressed?: boolean | null
    disabled?: boolean
    /** Why it is off: it can be come to, says so, and does nothing. */
    off?: string
    /** What it does. */
    tip?: string
    busy?: boolean
    type?: 'button' | 'submit'
    href?: string
  }>(),
  {
    kind: 'button',
    pressed: null,
    type: 'button',
    label: undefined,
    off: undefined,
    tip: undefined,
    href: undefined,
  },
)

const LOOKS: Partial<Record<string, 'outlined' | 'flat'>> = {
  button: 'outlined',
  main: 'flat',
  grave: 'flat',
}
function hold(event: Event): void {
  event.preventDefault()
  event.stopImmediatePropagation()
}

const COLOURS: Partial<Record<string, string>> = { main: 'primary', grave: 'error' }
</script>

<template>
  <v-btn
    class="ui-action"
    :class="`ui-action--${kind}`"
    :variant="LOOKS[kind] ?? 'text'"
    :color="COLOURS[kind]"
    :aria-label="label"
    :aria-pressed="pressed ?? undefined"
    :aria-description="off || (tip === label ? undefined : tip)"
    :aria-disabled="off ? true : undefined"
    :disabled="disabled"
    :loading="busy"
    :type="type"
    :href="href"
    :ripple="false"
    @click.capture="(event: Event) => off && hold(event)"
  >
    <slot />
    <UiTip v-if="off || tip" :text="off || tip!" />
  </v-btn>
</template>
