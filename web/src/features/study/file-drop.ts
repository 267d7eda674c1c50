/** What arrives in a study: files that are chosen, dropped and pasted, and tables made of them. */
import { ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { TableTaken } from '@/api/types'
import { useArrival } from '@/stores/pending-file'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { useFiles } from '@/lib/dropped-files'

/** @param open shows a figure */
export function useArriving(open: (figure: string) => unknown) {
  const studies = useStudy()
  const side = useSide()
  const arrival = useArrival()
  const router = useRouter()
  /** A file on its way in; `again` where it takes the place of a table's rows. */
  const file = shallowRef<{ file: File; again: string | null } | null>(null)
  const notice = ref('')
  /** The study that was made because a file came. */
  let madeFor = ''
  watch(
    () => studies.study?.id,
    (id) => {
      const brought = id ? arrival.take(id) : null
      if (!brought) return
      madeFor = id!
      read(brought)
    },
    { immediate: true },
  )

  function read(chosen: File, again: string | null = null): void {
    file.value = null
    // A second file replaces the first: its screen is made anew.
    requestAnimationFrame(() => (file.value = { file: chosen, again }))
  }

  async function taken(made: TableTaken): Promise<void> {
    file.value = null
    // It arrived in another study than the one that is open by now, and is there.
    if (!(await studies.added(made))) return
    notice.value = made.problem ?? ''
    side.rest()
    side.arrived = made.figure ? made.table.id : null
    if (made.figure) open(made.figure.id)
  }

  function replaced(said: string): void {
    file.value = null
    notice.value = said
  }

  /** A study that was made for a file, and never held anything, goes with it. */
  async function left(): Promise<void> {
    file.value = null
    const { study, tables } = studies
    if (!study || madeFor !== study.id || tables.length) return
    await studies.discard(study.id)
    await router.push({ name: 'studies' })
  }

  /** A table to be typed into, with its rows open. */
  async function typeTable(): Promise<void> {
    await taken(await studies.typeTable('typed rows'))
    const { openTable: table } = studies
    if (table) side.listed = { table, rows: null, title: 'Rows', isBegun: true }
  }

  const { dropping, dropped, dragged } = useFiles(read)

  return { file, dropping, notice, read, taken, replaced, left, typeTable, dropped, dragged }
}
