/**
 * The shape of the frame by the room there is, counted in letters: who has the browser write larger
 * has less room.
 */
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'

/** What has beside the work: both sides; drawers that come over it; nothing, all one below the other. */
export type Shape = 'wide' | 'drawers' | 'column'

const WIDE = '(min-width: 68.75rem)'
const COLUMN = '(max-width: 43.99rem)'

const rem = (): number => parseFloat(getComputedStyle(document.documentElement).fontSize) || 16

export function useShape() {
  const queries = [matchMedia(WIDE), matchMedia(COLUMN)]
  const read = (): Shape =>
    queries[0].matches ? 'wide' : queries[1].matches ? 'column' : 'drawers'
  const shape = ref(read())
  const changed = (): void => {
    shape.value = read()
  }
  onMounted(() => queries.forEach((query) => query.addEventListener('change', changed)))
  onBeforeUnmount(() => queries.forEach((query) => query.removeEventListener('change', changed)))
  return {
    shape: computed(() => shape.value),
    /** A length in letters, in pixels, for what can only be told in these. */
    pixels: (letters: number): number => Math.round(letters * rem()),
  }
}
