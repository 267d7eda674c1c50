<script setup lang="ts">
/**
 * The frame of a page: a bar above, what is at hand on the left, the work, and what is said of it.
 * Where there is no room for both sides they come over the work when they are asked for; on a phone
 * all stands one below the other.
 */
import { ref, useTemplateRef, watch } from 'vue'
import { useShape } from '@/ui/composables/shape'
import UiAction from './UiAction.vue'

const props = defineProps<{
  /** What the sides are called. */
  left: string
  right: string
  /** Changes with what is shown on the right: it comes out for that. */
  calls?: unknown
}>()

/** What begins below this share of the window is hardly seen. */
const LOW = 0.7

const below = useTemplateRef('below')
const { shape, pixels } = useShape()
const isLeftOut = ref(false)
const isRightOut = ref(false)

watch(shape, () => (isLeftOut.value = isRightOut.value = false))
watch(
  () => props.calls,
  (now) => {
    isLeftOut.value = false
    isRightOut.value = Boolean(now)
    // What was opened stands below, and is seen to have been opened.
    const { top = 0 } = below.value?.getBoundingClientRect() ?? {}
    if (now && top > LOW * window.innerHeight) below.value?.scrollIntoView({ block: 'center' })
  },
)

/** The innermost thing goes first: a drawer lies over all else. */
function closed(event: KeyboardEvent): void {
  if (shape.value === 'wide' || !(isLeftOut.value || isRightOut.value)) return
  if (isLeftOut.value) isLeftOut.value = false
  else if (props.calls) return
  else isRightOut.value = false
  event.preventDefault()
}
</script>

<template>
  <a class="ui-skip" href="#work">To the figure</a>
  <v-app-bar
    class="ui-frame__bar"
    data-opens
    :height="pixels(2.75)"
    :extension-height="pixels(2.75)"
    flat
    @keydown.esc="closed"
  >
    <UiAction
      v-if="shape !== 'wide'"
      :pressed="isLeftOut"
      :label="left"
      @click="isLeftOut = !isLeftOut"
      >{{ left }}</UiAction
    >
    <slot name="bar" :is-narrow="shape === 'column'" />
    <UiAction
      v-if="shape === 'drawers' && $slots.right"
      :pressed="isRightOut"
      :label="right"
      @click="isRightOut = !isRightOut"
      >{{ right }}</UiAction
    >
    <template v-if="shape === 'column' && $slots.find" #extension><slot name="find" /></template>
  </v-app-bar>
  <v-navigation-drawer
    class="ui-frame__side"
    :class="{ 'ui-frame__side--over': shape !== 'wide' }"
    tag="div"
    :model-value="shape === 'wide' || isLeftOut"
    :permanent="shape === 'wide'"
    :temporary="shape !== 'wide'"
    :scrim="shape === 'column'"
    :width="pixels(14.5)"
    :border="0"
    @update:model-value="isLeftOut = $event"
    @keydown.esc="closed"
  >
    <slot name="left" />
  </v-navigation-drawer>
  <v-main id="work" class="ui-frame__main" :class="`ui-frame__main--${shape}`" tabindex="-1">
    <slot />
    <div v-if="shape === 'column'" ref="below" class="ui-frame__below"><slot name="right" /></div>
  </v-main>
  <v-navigation-drawer
    v-if="$slots.right && shape !== 'column'"
    class="ui-frame__side"
    :class="{ 'ui-frame__side--over': shape !== 'wide' }"
    tag="div"
    location="right"
    :model-value="shape === 'wide' || isRightOut"
    :permanent="shape === 'wide'"
    :temporary="shape !== 'wide'"
    :scrim="false"
    :width="pixels(19)"
    :border="0"
    @update:model-value="isRightOut = $event"
  >
    <slot name="right" />
  </v-navigation-drawer>
</template>
