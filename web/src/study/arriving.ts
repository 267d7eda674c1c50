/** What arrives in a study: files that are chosen, dropped and pasted, and tables made of them. */
import { onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import type { TableTaken } from '@/api/types'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import { isTyping } from './typing'

/** @param open shows a figure */
export function useArriving(open: (figure: string) => unknown) {
  const studies = useStudy()
  const side = useSide()
  /** A file on its way in; `again` where it takes the place of a table's rows. */
  const file = shallowRef<{ file: File; again: string | null } | null>(null)
  const dropping = ref(false)
  const notice = ref('')

  function read(chosen: File, again: string | null = null): void {
    file.value = null
    // A second file replaces the first: its screen is made anew.
    requestAnimationFrame(() => (file.value = { file: chosen, again }))
  }

  async function taken(made: TableTaken): Promise<void> {
    file.value = null
    await studies.added(made)
    notice.value = made.problem ?? ''
    side.rest()
    if (made.figure) open(made.figure.id)
  }

  function replaced(said: string): void {
    file.value = null
    notice.value = said
  }

  const left = (): void => {
    file.value = null
  }

  /** A table to be typed into, with its rows open. */
  async function typeTable(): Promise<void> {
    await taken(await studies.typeTable('typed rows'))
    side.listed = { rows: null, title: 'Rows' }
  }

  function dropped(event: DragEvent): void {
    dropping.value = false
    const found = event.dataTransfer?.files[0]
    if (found) read(found)
  }

  function dragged(event: DragEvent): void {
    if (event.dataTransfer?.types.includes('Files')) dropping.value = true
  }

  /** Text on its way from a spreadsheet or a document is read in like a file. */
  function pasted(event: ClipboardEvent): void {
    if (isTyping(event.target)) return
    const found = event.clipboardData?.files[0]
    const text = event.clipboardData?.getData('text/plain') ?? ''
    if (found) read(found)
    else if (text.trim().includes('\n')) read(new File([text], 'pasted rows.txt'))
    else return
    event.preventDefault()
  }

  onMounted(() => window.addEventListener('paste', pasted))
  onBeforeUnmount(() => window.removeEventListener('paste', pasted))

  return { file, dropping, notice, read, taken, replaced, left, typeTable, dropped, dragged }
}
