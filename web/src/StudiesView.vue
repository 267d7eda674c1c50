<script setup lang="ts">
/** All studies, and how to begin one. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Study } from '@/api/types'
import { useStudy } from '@/stores/study'

const studies = useStudy()
const router = useRouter()
const found = ref<Study[] | null>(null)

async function load(): Promise<void> {
  found.value = await studies.list()
}

async function begin(demo: boolean): Promise<void> {
  const made = demo ? await studies.createDemo() : await studies.create('Untitled study')
  await router.push({ name: 'study', params: { studyId: made.id } })
}

void load()
</script>

<template>
  <main class="studies">
    <h1 class="studies__title">Yarrowdew</h1>
    <p class="quiet">
      Plot how variables go together, fit trend lines, and read off what they say.
    </p>
    <div class="studies__begin">
      <v-btn color="primary" variant="flat" @click="begin(false)">New study</v-btn>
      <v-btn @click="begin(true)">Open the demo study</v-btn>
    </div>
    <ul v-if="found?.length" class="studies__list">
      <li v-for="study in found" :key="study.id">
        <router-link
          class="card studies__study"
          :to="{ name: 'study', params: { studyId: study.id } }"
        >
          <strong>{{ study.name }}</strong>
          <span class="quiet">changed {{ study.changed.slice(0, 10) }}</span>
        </router-link>
      </li>
    </ul>
  </main>
</template>

<style scoped>
.studies {
  max-width: 560px;
  margin: 12vh auto 0;
  padding: 0 16px;
}

.studies__title {
  color: var(--accent);
  font-size: 30px;
  font-weight: 700;
}

.studies__begin {
  display: flex;
  gap: 8px;
  margin: 20px 0 28px;
}

.studies__list {
  list-style: none;
  padding: 0;
  display: grid;
  gap: 8px;
}

.studies__study {
  display: flex;
  justify-content: space-between;
  color: inherit;
  text-decoration: none;
}
</style>
