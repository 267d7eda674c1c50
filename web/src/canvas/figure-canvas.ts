/** A page on the screen: as large as there is room for, and painted anew when something changes. */
import {
  computed,
  inject,
  onBeforeUnmount,
  onMounted,
  watch,
  type InjectionKey,
  type Ref,
} from 'vue'
import { createMarkWorker } from '@/render/paint/mark-worker-client'
import { paintScene } from '@/render/paint/canvas'
import type { Scene } from '@/render/scene'
import type { Face } from '@/render/text/text'
import { loadFonts } from './fonts'
import { useElementSize, type Room } from './element-size'

/** Makes the worker that draws many marks; pages that are one file have none. */
export const MARK_WORKER: InjectionKey<() => Worker> = Symbol('draws beside')

interface Shown {
  host: Readonly<Ref<HTMLElement | null>>
  canvas: Readonly<Ref<HTMLCanvasElement | null>>
  /** In points. */
  page: Readonly<Ref<{ width: number; height: number }>>
  faces: () => readonly Face[]
  /** Lays out what is to be seen; null where there is nothing yet. */
  scene: () => Scene | null
  painted?: () => void
  /** What the page is in; measured here where nobody else needs it. */
  room?: Ref<Room>
}

export function useFigureCanvas(shown: Shown) {
  const { host, canvas, page } = shown
  const room = shown.room ?? useElementSize(host)
  const loaded = new Set<Face>()
  /** CSS pixels per point. */
  const scale = computed(() =>
    Math.max(
      0.1,
      Math.min(room.value.width / page.value.width, room.value.height / page.value.height),
    ),
  )
  const size = computed(() => ({
    width: Math.floor(page.value.width * scale.value),
    height: Math.floor(page.value.height * scale.value),
  }))

  let frame = 0

  function redraw(): void {
    cancelAnimationFrame(frame)
    frame = requestAnimationFrame(draw)
  }

  function draw(): void {
    const target = canvas.value
    if (!target || !room.value.width || !shown.faces().every((face) => loaded.has(face))) return
    const scene = shown.scene()
    if (!scene) return
    const pixels = window.devicePixelRatio * scale.value
    const standing = beside.ask(scene, pixels)
    // What was there stays until these marks are drawn: a figure without them would be an untruth.
    if (standing === 'none') {
      if (target.dataset.drawn) target.dataset.standIn = 'yes'
      return
    }
    target.width = Math.round(page.value.width * pixels)
    target.height = Math.round(page.value.height * pixels)
    paintScene(scene, target.getContext('2d')!, pixels, false, beside.paint)
    shown.painted?.()
    if (standing === 'stand-in' || scene.isRough) target.dataset.standIn = 'yes'
    else {
      delete target.dataset.standIn
      target.dataset.drawn = String(Number(target.dataset.drawn ?? 0) + 1)
    }
  }

  const beside = createMarkWorker(inject(MARK_WORKER, null), redraw)

  /** Measured with the wrong font, everything would stand in the wrong place. */
  async function fonts(): Promise<void> {
    const wanted = shown.faces()
    await loadFonts(wanted)
    for (const face of wanted) loaded.add(face)
    redraw()
  }

  onMounted(fonts)
  onBeforeUnmount(() => {
    beside.close()
    cancelAnimationFrame(frame)
  })
  watch(() => shown.faces().join(), fonts)
  watch([room, size], redraw)

  /** Where an event happened on the page, in points. */
  function place(event: MouseEvent): [number, number] {
    const box = canvas.value!.getBoundingClientRect()
    return [(event.clientX - box.left) / scale.value, (event.clientY - box.top) / scale.value]
  }

  return { room, scale, size, redraw, place, beside }
}
