/** Three hints for who is here for the first time: each is gone for good when used or dismissed. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useSide } from '@/stores/side'

const KEPT = 'yarrowdew hints that are gone'

export interface Hint {
  name: 'word' | 'part' | 'find'
  text: string
}

const HINTS: readonly Hint[] = [
  { name: 'word', text: 'Click a word of the sentence above to change what is shown.' },
  { name: 'part', text: 'Click a mark, an axis or the legend to change how it looks.' },
  { name: 'find', text: 'Press / and type what you want: “bigger text”, “log scale”.' },
]

const gone = ref<string[]>((localStorage.getItem(KEPT) ?? '').split(' ').filter(Boolean))

function dismiss(name: Hint['name']): void {
  if (gone.value.includes(name)) return
  gone.value = [...gone.value, name]
  localStorage.setItem(KEPT, gone.value.join(' '))
}

export function useHints() {
  const side = useSide()
  const hint = computed(() => HINTS.find(({ name }) => !gone.value.includes(name)) ?? null)
  watch(
    () => side.shown.kind === 'tuning',
    (isTuning) => isTuning && dismiss('part'),
  )
  const used = ({ target, type }: Event): void => {
    if (!(target instanceof Element)) return
    // The focus comes to a word also by itself.
    if (type === 'click' && target.closest('[data-testid="statement"] button')) dismiss('word')
    if (target.closest('.ui-find')) dismiss('find')
  }
  onMounted(() => window.addEventListener('click', used, true))
  onMounted(() => window.addEventListener('focusin', used))
  onBeforeUnmount(() => window.removeEventListener('click', used, true))
  onBeforeUnmount(() => window.removeEventListener('focusin', used))
  return { hint, dismiss }
}
