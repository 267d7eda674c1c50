<script setup lang="ts">
/** All studies with pictures of them, how to begin one, and those that can be brought back. */
import { shallowRef } from 'vue'
import type { StudyListed } from '@/api/types'
import UiAction from '@/ui/UiAction.vue'
import UiDialog from '@/ui/UiDialog.vue'
import UiFile from '@/ui/UiFile.vue'
import UiList from '@/ui/UiList.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import { useStudies } from './studies'
import StudyCard from './StudyCard.vue'

const studies = useStudies()
const { found, deleted, problem, said, working } = studies
/** The study that is asked about before it is gone. */
const leaving = shallowRef<StudyListed | null>(null)
</script>

<template>
  <main class="start">
    <header class="start__head">
      <div>
        <h1 class="start__title">Yarrowdew</h1>
        <p class="quiet">
          Plot how variables go together, fit trend lines, and read off what they say.
        </p>
      </div>
      <UiRow>
        <UiAction kind="main" @click="studies.begin(false)">New study</UiAction>
        <UiFile
          action="Read a study in"
          label="File of a study"
          accept=".zip"
          :busy="working"
          @picked="studies.readIn"
        />
        <UiAction @click="studies.begin(true)">Open the demo study</UiAction>
      </UiRow>
    </header>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiNote v-if="said" role="status">{{ said }}</UiNote>
    <ul v-if="found?.length" class="plain-list start__list" aria-label="Studies">
      <StudyCard
        v-for="study in found"
        :key="study.id"
        :study="study"
        @copy="studies.copy(study)"
        @save="studies.saveFile(study)"
        @remove="studies.remove(study)"
        @rename="studies.rename(study, $event)"
      />
    </ul>
    <section v-if="deleted.length" aria-label="Deleted studies">
      <h2 class="ui-panel__title">Deleted, kept for 30 days</h2>
      <UiList label="Deleted studies">
        <li v-for="study in deleted" :key="study.id">
          <UiRow>
            <strong>{{ study.name }}</strong>
            <span class="quiet">deleted {{ study.deleted?.slice(0, 10) }}</span>
            <UiAction kind="words" @click="studies.bringBack(study)">Bring back</UiAction>
            <UiAction kind="caution" @click="leaving = study">Delete for good</UiAction>
          </UiRow>
        </li>
      </UiList>
    </section>
    <UiDialog
      :model-value="leaving !== null"
      :heading="`Delete “${leaving?.name}” for good?`"
      action="Delete it for good"
      @update:model-value="leaving = null"
      @agreed="leaving && studies.forGood(leaving)"
    >
      <p>Its tables, figures and shared pages go with it, and nothing brings them back.</p>
    </UiDialog>
  </main>
</template>

<style scoped>
.start {
  height: 100vh;
  overflow: auto;
  box-sizing: border-box;
  padding: 40px max(24px, calc(50vw - 500px));
}

.start__head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 16px;
  margin-bottom: 24px;
}

.start__title {
  color: var(--accent);
  font-size: var(--text-head);
  font-weight: 700;
  line-height: 1.3;
}

.start__list {
  margin: 12px 0 32px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(312px, 1fr));
  gap: 16px;
}
</style>
