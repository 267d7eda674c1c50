<script setup lang="ts">
/** What keys do, by what has the focus. */
import { keyList } from '@/figure-model/keys'
import UiCheck from '@/ui/UiCheck.vue'
import UiDialog from '@/ui/UiDialog.vue'
import { singleKeys } from '@/stores/single-keys'

const open = defineModel<boolean>({ required: true })
const lists = keyList()
</script>

<template>
  <UiDialog v-model="open" heading="Keys" wide>
    <div class="keys" tabindex="0" role="region" aria-label="List of keys">
      <section v-for="{ where, keys } in lists" :key="where">
        <h3 class="cards__title">{{ where }}</h3>
        <dl class="numbers">
          <template v-for="{ shown, label } in keys" :key="label">
            <dt>
              <kbd>{{ shown }}</kbd>
            </dt>
            <dd>{{ label }}</dd>
          </template>
        </dl>
      </section>
    </div>
    <UiCheck v-model="singleKeys" label="Single-key shortcuts (/, ?, M)" />
  </UiDialog>
</template>

<style scoped>
.keys {
  columns: 20rem 2;
  column-gap: 24px;
  max-height: 60vh;
  overflow: auto;
}

.keys section {
  break-inside: avoid;
  margin-bottom: 12px;
}

.keys dl {
  grid-template-columns: 10rem 1fr;
}

.keys dd {
  text-align: left;
}

kbd {
  font-family: inherit;
  font-weight: 600;
}
</style>
