<script setup lang="ts">
/** What a number is called; where the guide explains it, a link to that. */
import { addressOfPassage, passageOfNumber } from '@/lib/guide-links'
import RichText from '@/components/RichText.vue'

defineProps<{ label: string }>()
</script>

<template>
  <router-link
    v-if="passageOfNumber(label)"
    :to="addressOfPassage(passageOfNumber(label)!)"
    class="term"
    :title="`What ${label} means`"
    ><RichText :text="label"
  /></router-link>
  <RichText v-else :text="label" />
</template>

<style scoped>
.term {
  color: inherit;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
}

.term:is(:hover, :focus-visible) {
  text-decoration: underline;
}
</style>
