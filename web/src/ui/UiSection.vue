<script setup lang="ts">
/** Controls that are needed now and then: out of sight until their heading is opened. */
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { addressOfPassage, OF_SECTIONS } from '@/lib/guide-links'
import { LIT, useSought } from '@/ui/composables/search-target'

const props = defineProps<{ heading: string; open?: boolean }>()
const shown = ref(props.open ? 0 : undefined)
const section = useTemplateRef<{ $el: HTMLElement }>('section')

const sought = useSought()
if (sought)
  watch(
    sought,
    async (now) => {
      if (now === null || shown.value === 0) return
      // What is folded is not there: it opens, and closes again where that is not in it.
      shown.value = 0
      await nextTick()
      await nextTick()
      if (!section.value?.$el.querySelector(`[${LIT}]`)) shown.value = undefined
    },
    { immediate: true },
  )
</script>

<template>
  <v-expansion-panels ref="section" v-model="shown" class="ui-section">
    <v-expansion-panel>
      <v-expansion-panel-title :ripple="false">{{ heading }}</v-expansion-panel-title>
      <v-expansion-panel-text>
        <slot />
        <p v-if="OF_SECTIONS[heading]" class="quiet small">
          <router-link :to="addressOfPassage(OF_SECTIONS[heading])" class="link"
            >{{ heading }}, in the guide</router-link
          >
        </p>
      </v-expansion-panel-text>
    </v-expansion-panel>
  </v-expansion-panels>
</template>
