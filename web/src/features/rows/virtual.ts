/** Which rows are in sight of a box that scrolls over any number of them. */
import { computed, onBeforeUnmount, onMounted, ref, type Ref } from 'vue'

const ROW_HEIGHT = 26
/** Browsers do not draw elements much taller than this; above it the scroll bar works in shares. */
const TALLEST = 8_000_000

export function useVirtualRows(body: Readonly<Ref<HTMLElement | null>>, total: Ref<number>) {
  const top = ref(0)
  const height = ref(160)

  const shownRows = computed(() => Math.max(1, Math.floor(height.value / ROW_HEIGHT)))
  const virtual = computed(() => Math.min(total.value * ROW_HEIGHT, TALLEST))
  const first = computed(() => {
    const most = Math.max(0, total.value - shownRows.value)
    if (virtual.value < TALLEST) return Math.min(most, Math.floor(top.value / ROW_HEIGHT))
    return Math.round((top.value / Math.max(1, virtual.value - height.value)) * most)
  })
  const offset = computed(() =>
    virtual.value < TALLEST ? first.value * ROW_HEIGHT : Math.min(top.value, virtual.value),
  )
  const places = computed(() =>
    Array.from(
      { length: Math.max(0, Math.min(shownRows.value + 2, total.value - first.value)) },
      (_, i) => first.value + i,
    ),
  )

  function scrolled(): void {
    if (body.value) top.value = body.value.scrollTop
  }

  function scrollTo(place: number): void {
    if (!body.value) return
    const share = place / Math.max(1, total.value - shownRows.value)
    body.value.scrollTop =
      virtual.value < TALLEST ? place * ROW_HEIGHT : share * (virtual.value - height.value)
    scrolled()
  }

  /** Scrolls as little as brings a row into sight. */
  function reveal(place: number): void {
    const whole = shownRows.value - 1
    if (place < first.value) scrollTo(place)
    else if (place >= first.value + whole) scrollTo(place - whole + 1)
  }

  function look(): void {
    if (body.value) height.value = Math.max(ROW_HEIGHT, body.value.clientHeight - ROW_HEIGHT)
  }

  const observer = new ResizeObserver(look)
  onMounted(() => {
    look()
    observer.observe(body.value!)
  })
  onBeforeUnmount(() => observer.disconnect())

  return { shownRows, virtual, first, offset, places, scrolled, scrollTo, reveal }
}
