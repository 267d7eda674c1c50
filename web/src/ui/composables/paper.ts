/** The paper of figures in the dark theme: dimmed by choice, on the screen only. */
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'

const KEPT = 'yarrowdew dim paper'
const DIM = 'yes'

const isDim = ref(localStorage.getItem(KEPT) === DIM)

export function usePaper() {
  const query = matchMedia('(prefers-color-scheme: dark)')
  const isDark = ref(query.matches)
  const changed = (): boolean => (isDark.value = query.matches)
  onMounted(() => query.addEventListener('change', changed))
  onBeforeUnmount(() => query.removeEventListener('change', changed))
  watch(
    [isDim, isDark],
    ([dim, dark]) => document.documentElement.classList.toggle('dim-paper', dim && dark),
    { immediate: true },
  )
  watch(isDim, (dim) => localStorage.setItem(KEPT, dim ? DIM : 'no'))
  return { isDim, isDark }
}
