<script setup lang="ts">
/** A study in the list: pictures of its first figures, its name, and what can be done with it. */
import type { StudyListed } from '@/api/types'
import FigureThumb from '@/components/FigureThumb.vue'
import { nextTick, ref, useTemplateRef } from 'vue'
import { countOf } from '@/figure-model/words'
import UiAction from '@/ui/UiAction.vue'
import UiRow from '@/ui/UiRow.vue'
import UiText from '@/ui/UiText.vue'

const props = defineProps<{ study: StudyListed }>()
const emit = defineEmits<{ copy: []; save: []; remove: []; rename: [typed: string] }>()

/** Whether its name is being changed. */
const renaming = ref(false)
const card = useTemplateRef<HTMLElement>('card')

async function rename(): Promise<void> {
  renaming.value = true
  await nextTick()
  card.value?.querySelector('input')?.select()
}

function named(typed: string): void {
  renaming.value = false
  if (typed.trim() && typed.trim() !== props.study.name) emit('rename', typed)
}
</script>

<template>
  <li ref="card" class="card cards study">
    <router-link
      class="study__open"
      :to="{ name: 'study', params: { studyId: study.id } }"
      :aria-label="`Open ${study.name}`"
    >
      <span v-if="study.first.length" class="study__pictures">
        <FigureThumb
          v-for="(figure, i) in study.first.slice(0, 3)"
          :key="figure.id"
          :figure="figure"
          :open="false"
          :width="i ? 84 : 200"
          :height="i ? 62 : 128"
        />
      </span>
      <span v-else class="study__none quiet">No figure yet</span>
    </router-link>
    <UiText
      v-if="renaming"
      bare
      class="study__above"
      :label="`Name of the study ${study.name}`"
      :model-value="study.name"
      :maxlength="200"
      @update:model-value="named"
      @keydown.esc="renaming = false"
      @focusout="renaming = false"
    />
    <h3 v-else class="cards__title clipped" :title="study.name">{{ study.name }}</h3>
    <p class="quiet">
      {{ countOf(study.figures, 'figure')
      }}<template v-if="study.plates"> · {{ countOf(study.plates, 'plate') }}</template> · changed
      {{ study.changed.slice(0, 10) }}
    </p>
    <UiRow class="study__above">
      <UiAction kind="words" @click="rename">Rename</UiAction>
      <UiAction kind="words" @click="emit('copy')">Copy</UiAction>
      <UiAction kind="words" @click="emit('save')">Export study</UiAction>
      <UiAction kind="caution" @click="emit('remove')">Delete</UiAction>
    </UiRow>
  </li>
</template>

<style scoped>
.study {
  position: relative;
}

.study:hover {
  box-shadow: 0 0 0 1px var(--accent);
}

.study__open {
  color: inherit;
  text-decoration: none;
  border-radius: var(--radius);
}

/* The card opens wherever it is clicked, but for what is done with it. */
.study__open::after {
  content: '';
  position: absolute;
  inset: 0;
  border-radius: var(--radius);
}

.study__above {
  position: relative;
  z-index: 1;
}

.study__pictures {
  display: grid;
  grid-template-columns: 200px 84px;
  grid-template-rows: 62px 62px;
  gap: 4px;
  justify-content: space-between;
  background: var(--paper);
  border-radius: var(--radius);
}

.study__pictures > :first-child {
  grid-row: 1 / 3;
}

.study__none {
  display: grid;
  place-items: center;
  height: 128px;
  background: var(--ground);
  border-radius: var(--radius);
}
</style>
