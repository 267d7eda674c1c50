/** Files that are dropped on a page or pasted into it. */
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { isTyping } from './typing'

/** What the list of files offers first; others can be chosen, too. */
export const READABLE =
  '.csv,.tsv,.txt,.tab,.dat,.xlsx,.ods,.parquet,.arrow,.feather,.ipc,.json,.ndjson,.jsonl,.zip,text/*'

export function useFiles(read: (file: File) => unknown) {
  const dropping = ref(false)

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

  return { dropping, dropped, dragged }
}
