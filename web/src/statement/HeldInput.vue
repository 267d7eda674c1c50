<script setup lang="ts">
/** A field whose words stay while they are typed, though what surrounds it is drawn anew. */
defineProps<{ value: string }>()
const emit = defineEmits<{ set: [text: string] }>()
</script>

<template>
  <input v-held="value" @change="emit('set', ($event.target as HTMLInputElement).value)" />
</template>
