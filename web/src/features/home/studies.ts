/** The list of studies, and what can be done with one. */
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { client, finished, Problem, sendFile, take } from '@/api/client'
import type { Study, StudyListed } from '@/api/types'
import { save } from '@/render/files/images'
import { useArrival } from '@/stores/pending-file'
import { forgetPictures } from '@/stores/thumbnail-cache'
import { useStudy } from '@/stores/study'

export function useStudies() {
  const studies = useStudy()
  const arrival = useArrival()
  const router = useRouter()
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

  /** A file becomes a study of its own, and the next thing seen is how it is read. */
  async function bring(file: File): Promise<void> {
    working.value = true
    problem.value = ''
    try {
      const made = await studies.create(file.name.replace(/\.[^.]+$/, '').slice(0, 200) || 'Rows')
      arrival.waiting = { study: made.id, file }
      await open(made.id)
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      problem.value = error.sentence
    } finally {
      working.value = false
    }
  }

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
      forgetPictures()
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

  function rename(study: StudyListed, typed: string): void {
    const name = typed.trim()
    if (!name || name === study.name) return
    void attempt(async () => {
      await take(client.PATCH('/api/studies/{study_id}', { ...at(study.id), body: { name } }))
      return ''
    })
  }

  const readIn = (file: File) =>
    attempt(async () => {
      const upload = await sendFile(file, () => undefined, new AbortController().signal)
      const made = await finished<Study>(
        client.POST('/api/studies/packages', {
          params: { header: { prefer: 'respond-async' } },
          body: { upload: upload.id },
        }),
        () => undefined,
        new AbortController().signal,
      )
      return `${made.name} was imported.`
    })

  void load()

  return {
    found,
    deleted,
    problem,
    said,
    working,
    begin,
    bring,
    copy,
    remove,
    bringBack,
    forGood,
    saveFile,
    rename,
    readIn,
  }
}
