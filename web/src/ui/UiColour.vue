<script setup lang="ts">
/** A colour: one of the eight of the study first, any colour after; or none, where that means something. */
import { ref } from 'vue'
import { CATEGORIES, CATEGORY_NAMES, toHex } from '@/render/colours'
import UiAction from './UiAction.vue'
import UiField from './UiField.vue'

const props = defineProps<{
  label: string
  modelValue: string | null
  /** What it is called to have no colour of its own. */
  none?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: string | null] }>()

const open = ref(false)
const isOwn = (): boolean =>
  props.modelValue !== null && !CATEGORIES.some((one) => toHex(one) === props.modelValue)
</script>

<template>
  <UiField :label="label" role="group" :aria-label="label">
    <span class="ui-choice">
      <UiAction v-if="none" :pressed="modelValue === null" @click="emit('update:modelValue', null)">
        {{ none }}
      </UiAction>
      <UiAction
        v-for="(colour, i) in CATEGORIES"
        :key="i"
        class="ui-swatch"
        :style="{ background: toHex(colour) }"
        :label="CATEGORY_NAMES[i]"
        :tip="CATEGORY_NAMES[i]"
        :pressed="modelValue === toHex(colour)"
        @click="emit('update:modelValue', toHex(colour))"
      />
      <v-menu v-model="open" :close-on-content-click="false">
        <template #activator="{ props: menu }">
          <UiAction
            v-bind="menu"
            class="ui-swatch ui-swatch--own"
            :style="isOwn() ? { background: modelValue! } : {}"
            :label="`Own ${label}`"
            :pressed="isOwn()"
            tip="a colour of your own"
          >
            {{ isOwn() ? '' : '…' }}
          </UiAction>
        </template>
        <v-color-picker
          :model-value="modelValue ?? toHex(CATEGORIES[0])"
          mode="hex"
          :modes="['hex']"
          @update:model-value="emit('update:modelValue', $event)"
        />
      </v-menu>
    </span>
  </UiField>
</template>
