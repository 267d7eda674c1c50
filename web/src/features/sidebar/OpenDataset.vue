<script setup lang="ts">
/** A dataset: one of those that the server may open is added to the study; its rows stay there. */
import { onMounted, ref, shallowRef } from 'vue'
import { client, finished, Problem, take } from '@/api/client'
import type { DatasetFound, TableTaken } from '@/api/types'
import { countOf } from '@/figure-model/words'
import { useStudy } from '@/stores/study'
import UiAction from '@/ui/UiAction.vue'
import UiDialog from '@/ui/UiDialog.vue'
import UiNote from '@/ui/UiNote.vue'
import UiProgress from '@/ui/UiProgress.vue'

const emit = defineEmits<{ taken: [made: TableTaken] }>()

const studies = useStudy()
const found = shallowRef<DatasetFound[]>([])
const isOpen = ref(false)
const opening = ref<string | null>(null)
const share = ref<number | null>(null)
const problem = ref('')
let stopper = new AbortController()

onMounted(async () => {
  // Where nothing can be opened nothing is offered.
  found.value = await take<DatasetFound[]>(client.GET('/api/datasets')).catch(() => [])
})

async function open({ path, name }: DatasetFound): Promise<void> {
  problem.value = ''
  opening.value = name
  share.value = null
  stopper = new AbortController()
  try {
    const made = await finished<TableTaken>(
      client.POST('/api/studies/{study_id}/datasets', {
        params: {
          path: { study_id: studies.study!.id },
          header: { prefer: 'respond-async' },
        },
        body: { path },
      }),
      (done) => (share.value = done),
      stopper.signal,
    )
    isOpen.value = false
    emit('taken', made)
  } catch (error) {
    if (error instanceof Problem) problem.value = error.sentence
    else if (!(error instanceof DOMException)) throw error
  } finally {
    opening.value = null
  }
}
</script>

<template>
  <UiAction v-if="found.length" kind="words" @click="isOpen = true">+ Open a dataset</UiAction>
  <UiDialog v-model="isOpen" heading="Open a dataset" wide>
    <UiNote>
      Its files stay where they are and are read in chunks, whatever their size. Figures show counts
      from afar, and single rows once you zoom in.
    </UiNote>
    <UiProgress
      v-if="opening"
      :label="`Looking at all rows of ${opening} …`"
      :share="share"
      can-stop
      @stop="stopper.abort()"
    />
    <ul v-else class="plain-list" aria-label="Datasets">
      <li v-for="one in found" :key="one.path">
        <UiAction kind="row" :tip="one.path" @click="open(one)">
          {{ one.name }} <span class="quiet small">{{ countOf(one.files, 'file') }}</span>
        </UiAction>
      </li>
    </ul>
    <UiNote v-if="problem" kind="wrong">{{ problem }}</UiNote>
  </UiDialog>
</template>
