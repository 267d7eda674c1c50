<script setup lang="ts">
/** A statement as it is read and set: words that open lists, and what could be added. */
import type { Statement } from '@/figure-model/statement/parts'
import UiTip from '@/ui/UiTip.vue'
import Chooser from './Chooser.vue'

defineProps<{ statement: Statement }>()
</script>

<template>
  <div class="statement" data-testid="statement" data-opens>
    <h1 class="statement__sentence">
      <template
        v-for="(part, i) in statement.sentence"
        :key="part.kind === 'rows' ? part.kind : `${i} ${part.kind}`"
      >
        <template v-if="part.kind === 'text'">{{ part.text }}</template>
        <Chooser v-else-if="part.kind === 'choice'" :part="part" />
        <button
          v-else-if="part.kind === 'act'"
          type="button"
          class="word"
          :aria-label="`${part.text}: ${part.label}`"
          @click="part.act"
          v-text="part.text"
        />
        <!-- One and the same before and after the first condition, so that its list stays open. -->
        <template v-else
          ><template v-if="part.text"> · rows: </template><slot name="rows"
        /></template>
      </template>
    </h1>
    <div class="offers" role="group" aria-label="What can be added">
      <template v-for="offer in statement.offers" :key="`${offer.kind} ${offer.label}`">
        <Chooser v-if="offer.kind === 'choice'" faint :part="offer" />
        <button
          v-else
          type="button"
          class="word word--faint"
          :aria-label="`${offer.text}: ${offer.label}`"
          :aria-disabled="offer.why ? true : undefined"
          :aria-description="offer.why"
          @click="offer.why || offer.act()"
        >
          {{ offer.text }}<UiTip v-if="offer.why" :text="offer.why" />
        </button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.statement {
  font-size: var(--text-lead);
  font-weight: 400;
  line-height: 1.62;
  white-space: pre-wrap;
}

.statement__sentence {
  display: inline;
  font: inherit;
}

.offers {
  display: inline-flex;
  flex-wrap: wrap;
  column-gap: 12px;
  margin-left: 8px;
}
</style>
