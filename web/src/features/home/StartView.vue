<script setup lang="ts">
/** Where one arrives: a file can be brought, and all studies stand with pictures of them. */
import { computed, shallowRef } from 'vue'
import type { StudyListed } from '@/api/types'
import { READABLE, useFiles } from '@/lib/dropped-files'
import UiAction from '@/ui/UiAction.vue'
import UiDialog from '@/ui/UiDialog.vue'
import UiFile from '@/ui/UiFile.vue'
import UiList from '@/ui/UiList.vue'
import UiNote from '@/ui/UiNote.vue'
import UiProgress from '@/ui/UiProgress.vue'
import UiRow from '@/ui/UiRow.vue'
import { useStudies } from './studies'
import StudyCard from './StudyCard.vue'

const studies = useStudies()
const { found, deleted, problem, said, working } = studies
const { dropping, dropped, dragged } = useFiles(studies.bring)
/** The study that is asked about before it is gone. */
const leaving = shallowRef<StudyListed | null>(null)
/** Told by the keyboard that is there. */
const paste = computed(() => (navigator.platform.startsWith('Mac') ? '⌘V' : 'Ctrl+V'))
</script>

<template>
  <main
    class="start"
    @dragenter.prevent="dragged"
    @dragover.prevent="dragged"
    @dragleave.self="dropping = false"
    @drop.prevent="dropped"
  >
    <header>
      <h1 class="start__title">Yarrowdew</h1>
      <p class="quiet">
        Plot how variables go together, fit trend lines, and read off what they say.
        <router-link :to="{ name: 'guide' }" class="link">Guide</router-link>
      </p>
    </header>
    <section class="bring" :class="{ 'bring--over': dropping }" aria-label="Bring a table">
      <h2 class="bring__title">Drop a file here</h2>
      <p class="quiet">
        or paste rows from a spreadsheet ({{ paste }}). You check how it was read before it is
        imported.
      </p>
      <UiRow>
        <UiFile
          kind="main"
          action="Choose a file"
          label="File to import"
          :accept="READABLE"
          :busy="working"
          @picked="studies.bring"
        />
        <UiAction @click="studies.begin(true)">Open the demo study</UiAction>
        <UiAction @click="studies.begin(false)">New study</UiAction>
      </UiRow>
      <p class="quiet small">
        Delimited text, a workbook (XLSX, ODS), Parquet, Arrow, JSON, a data package. Nothing leaves
        this machine.
      </p>
    </section>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
    <UiNote v-if="said" role="status">{{ said }}</UiNote>
    <header class="start__head">
      <h2 class="ui-panel__title">{{ found?.length === 0 ? 'No study yet' : 'Studies' }}</h2>
      <UiFile
        kind="words"
        action="Import a study"
        label="File of a study"
        accept=".zip"
        :busy="working"
        @picked="studies.readIn"
      />
    </header>
    <UiProgress v-if="found === null" late label="Looking for your studies …" />
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
  padding: 32px max(16px, calc(50vw - 500px));
}

.start__title {
  color: var(--accent);
  font-size: var(--text-head);
  font-weight: 700;
  line-height: 1.3;
}

.bring {
  display: grid;
  justify-items: center;
  gap: 12px;
  margin: 16px 0 24px;
  padding: 32px 16px;
  text-align: center;
  border: 2px dashed var(--edge);
  border-radius: var(--radius);
  background: var(--raised);
}

.bring--over {
  border-color: var(--accent);
  background: var(--chosen);
}

.bring__title {
  font-size: var(--text-head);
  font-weight: 600;
  line-height: 1.3;
}

.start__head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 16px;
}

.start__list {
  margin: 12px 0 32px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(312px, 100%), 1fr));
  gap: 16px;
}
</style>
