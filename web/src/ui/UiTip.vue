<script setup lang="ts">
/**
 * What a control does, or why it is off, where its words do not say all. It stands in its control,
 * and is there only while a pointer rests on it or the keys have come to it.
 */
import { onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue'

defineProps<{ text: string }>()

const RESTS_MS = 400

const place = useTemplateRef<HTMLElement>('place')
const open = ref(false)
let waiting = 0

function come(event: Event): void {
  clearTimeout(waiting)
  const rests = event.type === 'pointerenter' ? RESTS_MS : 0
  if (rests || (event.target as Element).matches(':focus-visible'))
    waiting = window.setTimeout(() => (open.value = true), rests)
}

function go(): void {
  clearTimeout(waiting)
  open.value = false
}

const heard = { pointerenter: come, focus: come, pointerleave: go, blur: go, click: go }
let control: HTMLElement | null = null

onMounted(() => {
  control = place.value?.closest('button, a') ?? null
  for (const [name, act] of Object.entries(heard)) control?.addEventListener(name, act)
})
onBeforeUnmount(() => {
  clearTimeout(waiting)
  for (const [name, act] of Object.entries(heard)) control?.removeEventListener(name, act)
})
</script>

<template>
  <span ref="place" hidden>
    <v-tooltip
      v-if="open"
      v-model="open"
      :activator="control ?? undefined"
      :open-on-hover="false"
      :text="text"
      location="bottom"
      max-width="280"
    />
  </span>
</template>
