<script setup lang="ts">
/** The title; absent until typed. */
import { useFigure } from '@/stores/figure'

const figure = useFigure()

function setTitle(event: Event): void {
  const text = (event.target as HTMLInputElement).value
  figure.edit((draft) => {
    draft.title = text.trim() === '' ? null : text
  }, 'title')
}
</script>

<template>
  <label class="field">
    Title
    <input
      :value="figure.document!.title ?? ''"
      maxlength="500"
      placeholder="No title"
      @input="setTitle"
    />
  </label>
</template>
