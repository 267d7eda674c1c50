/**
 * The room that a figure has on the screen. What is made for the screen has no page of its own: it
 * takes the shape of the room, with its words at reading size, however small or large that is.
 */
import { computed, onBeforeUnmount, onMounted, ref, type ComputedRef, type Ref } from 'vue'
import type { RenderedFigure } from '@/render/figure'

export interface Room {
  width: number
  height: number
}

/** A page with less than this has no room for axes and words; it is shown smaller, then. */
const LEAST = { width: 260, height: 190 }
/** Above this width what is on it grows, too: one sits further away from a large screen. */
const WIDE = 1000

/** A figure on the page that it has in a room. */
export function inRoom(figure: RenderedFigure, { width, height }: Room): RenderedFigure {
  const { document } = figure
  if (document.page.venue !== 'screen' || width < 1 || height < 1) return figure
  const grown = 1 + Math.max(0, width - WIDE) / (2 * WIDE)
  const page = {
    ...document.page,
    width: Math.max(LEAST.width, Math.round(width / grown)),
    height: Math.max(LEAST.height, Math.round(height / grown)),
  }
  return { ...figure, document: { ...document, page } }
}

/** The room inside an element, in pixels. */
export function useElementSize(host: Readonly<Ref<HTMLElement | null>>): Ref<Room> {
  const room = ref<Room>({ width: 0, height: 0 })
  const observer = new ResizeObserver(([entry]) => {
    const { width, height } = entry.contentRect
    room.value = { width, height }
  })
  onMounted(() => observer.observe(host.value!))
  onBeforeUnmount(() => observer.disconnect())
  return room
}

/**
 * The figure as it is seen: the same object for as long as neither it nor its room changes. While
 * it is exported it is seen on its own page, as it goes out.
 */
export const useFittedFigure = (
  figure: () => RenderedFigure | null,
  room: Ref<Room>,
  asPage: () => boolean = () => false,
): ComputedRef<RenderedFigure | null> =>
  computed(() => {
    const shown = figure()
    return !shown || asPage() ? shown : inRoom(shown, room.value)
  })
