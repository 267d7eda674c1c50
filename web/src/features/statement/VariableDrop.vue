<script setup lang="ts">
/** Where a variable that is dragged over the figure can be dropped: a named place for each role. */
import { computed, ref } from 'vue'
import { statementOf } from '@/kinds'
import { rolesFor, type RoleChoice } from '@/figure-model/statement/roles'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { statementContext } from '@/stores/statement-context'

const props = defineProps<{ variable: string }>()

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const over = ref('')
const roles = computed(() =>
  rolesFor(statementOf(statementContext(figure, studies, side)), props.variable),
)

function drop({ put }: RoleChoice): void {
  side.dragged = null
  put()
}
</script>

<template>
  <div class="drop" aria-hidden="true" data-testid="drop">
    <div
      v-for="one in roles"
      :key="one.role"
      class="drop__place"
      :class="[
        `drop__place--${one.role.replace(' ', '-')}`,
        { 'drop__place--over': over === one.role },
      ]"
      @dragenter="over = one.role"
      @dragleave="over === one.role && (over = '')"
      @dragover.prevent
      @drop.prevent.stop="drop(one)"
    >
      {{ one.label }}{{ one.isTaken ? ' (as now)' : '' }}
    </div>
    <p v-if="!roles.length" class="drop__place">This variable has no place on this figure.</p>
  </div>
</template>

<style scoped>
.drop {
  position: absolute;
  /* The foot below the figure stays in sight. */
  inset: 0 0 64px;
  z-index: 2;
  display: grid;
  grid-template-columns: minmax(96px, 1fr) 2fr 2fr minmax(96px, 1fr);
  grid-template-rows: 2fr 2fr minmax(56px, 1fr);
  gap: 8px;
  padding: 8px;
}

.drop__place {
  display: grid;
  place-items: center;
  padding: 4px 8px;
  border: 1.5px dashed var(--accent);
  border-radius: var(--radius);
  background: color-mix(in srgb, var(--raised) 78%, transparent);
  color: var(--accent);
  font-weight: 600;
  text-align: center;
}

.drop__place--over {
  background: var(--chosen);
  border-style: solid;
}

.drop__place--y {
  grid-area: 1 / 1 / 3 / 2;
}

.drop__place--x {
  grid-area: 3 / 2 / 4 / 4;
}

.drop__place--z,
.drop__place--by,
.drop__place--another-y,
.drop__place--matrix {
  grid-area: 3 / 1 / 4 / 2;
}

.drop__place--colour {
  grid-area: 1 / 4 / 3 / 5;
}

.drop__place--size {
  grid-area: 1 / 2 / 3 / 3;
}

.drop__place--labels {
  grid-area: 1 / 3 / 3 / 4;
}
</style>
