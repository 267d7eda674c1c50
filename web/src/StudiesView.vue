<script setup lang="ts">
/** All studies with pictures of them, how to begin one, and those that can be brought back. */
import { ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { client, Problem, sendFile, take } from '@/api/client'
import type { Study, StudyListed } from '@/api/types'
import { save } from '@/handon/images'
import FigureThumb from '@/ledger/FigureThumb.vue'
import { useStudy } from '@/stores/study'
import { countOf } from '@/model/words'

const studies = useStudy()
const router = useRouter()
const picker = useTemplateRef('picker')
const found = ref<StudyListed[] | null>(null)
const deleted = ref<StudyListed[]>([])
const problem = ref('')
const said = ref('')
const working = ref(false)

async function load(): Promise<void> {
  const list = (wanted: boolean) =>
    take<StudyListed[]>(client.GET('/api/studies', { params: { query: { deleted: wanted } } }))
  ;[found.value, deleted.value] = await Promise.all([list(false), list(true)])
}

const at = (id: string) => ({ params: { path: { study_id: id } } })

const open = (id: string) => router.push({ name: 'study', params: { studyId: id } })

async function begin(demo: boolean): Promise<void> {
  const made = demo ? await studies.createDemo() : await studies.create('Untitled study')
  await open(made.id)
}

/** Does something to a study, and shows the list as it is then. */
async function attempt(work: () => Promise<string>): Promise<void> {
  working.value = true
  problem.value = ''
  try {
    said.value = await work()
    await load()
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  } finally {
    working.value = false
  }
}

const copy = ({ id, name }: StudyListed) =>
  attempt(async () => {
    const made = await take<Study>(client.POST('/api/studies/{study_id}/copies', at(id)))
    return `${name} was copied; the copy is called ${made.name}.`
  })

const remove = ({ id, name }: StudyListed) =>
  attempt(async () => {
    await take(client.DELETE('/api/studies/{study_id}', at(id)))
    return `${name} was deleted. It can be brought back below for 30 days.`
  })

const bringBack = ({ id, name }: StudyListed) =>
  attempt(async () => {
    await take(client.POST('/api/studies/{study_id}/return', at(id)))
    return `${name} is back.`
  })

const forGood = ({ id, name }: StudyListed) =>
  attempt(async () => {
    await take(
      client.DELETE('/api/studies/{study_id}', {
        params: { path: { study_id: id }, query: { for_good: true } },
      }),
    )
    return `${name} is gone.`
  })

const saveFile = ({ id, name }: StudyListed) =>
  attempt(async () => {
    const file = await take<Blob>(
      client.GET('/api/studies/{study_id}/package', { ...at(id), parseAs: 'blob' }),
    )
    save(file, `${name}.zip`)
    return `${name} was saved as a file.`
  })

function rename(study: StudyListed, event: Event): void {
  const name = (event.target as HTMLInputElement).value.trim()
  if (!name || name === study.name) return
  void attempt(async () => {
    await take(client.PATCH('/api/studies/{study_id}', { ...at(study.id), body: { name } }))
    return ''
  })
}

function picked(event: Event): void {
  const input = event.target as HTMLInputElement
  const [file] = input.files ?? []
  input.value = ''
  if (!file) return
  void attempt(async () => {
    const upload = await sendFile(file, () => undefined, new AbortController().signal)
    const made = await take<Study>(
      client.POST('/api/studies/packages', { body: { upload: upload.id } }),
    )
    return `${made.name} was read in.`
  })
}

void load()
</script>

<template>
  <main class="studies">
    <header class="studies__head">
      <div>
        <h1 class="studies__title">Yarrowdew</h1>
        <p class="quiet">
          Plot how variables go together, fit trend lines, and read off what they say.
        </p>
      </div>
      <div class="studies__begin">
        <v-btn color="primary" variant="flat" @click="begin(false)">New study</v-btn>
        <v-btn :loading="working" @click="picker?.click()">Read a study in</v-btn>
        <v-btn @click="begin(true)">Open the demo study</v-btn>
        <input
          ref="picker"
          type="file"
          class="out-of-sight"
          tabindex="-1"
          accept=".zip"
          aria-label="File of a study"
          @change="picked"
        />
      </div>
    </header>
    <p v-if="problem" class="studies__problem" role="alert">{{ problem }}</p>
    <p v-if="said" class="quiet" role="status">{{ said }}</p>
    <ul v-if="found?.length" class="studies__list" aria-label="Studies">
      <li v-for="study in found" :key="study.id" class="card study">
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
        <input
          v-held="study.name"
          class="study__name"
          maxlength="200"
          :aria-label="`Name of the study ${study.name}`"
          @change="rename(study, $event)"
        />
        <p class="quiet study__about">
          {{ countOf(study.figures, 'figure')
          }}<template v-if="study.plates"> · {{ countOf(study.plates, 'plate') }}</template> ·
          changed {{ study.changed.slice(0, 10) }}
        </p>
        <p class="study__tools">
          <button type="button" class="link" @click="copy(study)">Copy</button>
          <button type="button" class="link" @click="saveFile(study)">Save as a file</button>
          <button type="button" class="link link--caution" @click="remove(study)">Delete</button>
        </p>
      </li>
    </ul>
    <section v-if="deleted.length" class="studies__deleted" aria-label="Deleted studies">
      <h2>Deleted, kept for 30 days</h2>
      <ul>
        <li v-for="study in deleted" :key="study.id">
          <strong>{{ study.name }}</strong>
          <span class="quiet">deleted {{ study.deleted?.slice(0, 10) }}</span>
          <button type="button" class="link" @click="bringBack(study)">Bring back</button>
          <button type="button" class="link link--caution" @click="forGood(study)">
            Delete for good
          </button>
        </li>
      </ul>
    </section>
  </main>
</template>

<style scoped>
.studies {
  height: 100vh;
  overflow: auto;
  box-sizing: border-box;
  padding: 40px max(24px, calc(50vw - 500px));
}

.studies__head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: 16px;
  margin-bottom: 24px;
}

.studies__title {
  color: var(--accent);
  font-size: 30px;
  font-weight: 700;
}

.studies__begin {
  display: flex;
  gap: 8px;
}

.studies__problem {
  color: var(--caution);
}

.studies__list {
  list-style: none;
  padding: 0;
  margin: 12px 0 32px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(312px, 1fr));
  gap: 16px;
}

.study {
  display: grid;
  gap: 4px;
}

.study__open {
  color: inherit;
  text-decoration: none;
  border-radius: 6px;
}

.study__pictures {
  display: grid;
  grid-template-columns: 200px 84px;
  grid-template-rows: 62px 62px;
  gap: 4px;
  justify-content: space-between;
  background: var(--paper);
  border-radius: 6px;
}

.study__pictures > :first-child {
  grid-row: 1 / 3;
}

.study__none {
  display: grid;
  place-items: center;
  height: 128px;
  background: var(--ground);
  border-radius: 6px;
}

.study__name {
  font-weight: 600;
  border: 1px solid transparent;
  border-radius: 4px;
  padding: 1px 4px;
  margin-left: -5px;
  text-overflow: ellipsis;
}

.study__name:hover {
  border-color: var(--line);
}

.study__about,
.study__tools {
  font-size: 14px;
}

.study__tools {
  display: flex;
  gap: 16px;
}

.studies__deleted h2 {
  font-size: 16px;
  font-weight: 600;
  margin-bottom: 8px;
}

.studies__deleted ul {
  list-style: none;
  padding: 0;
  display: grid;
  gap: 6px;
}

.studies__deleted li {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
</style>
