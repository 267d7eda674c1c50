/** Rings round the marks of selected rows, where they now stand: as one path, which is quick. */
import { computed, type ComputedRef, type Ref } from 'vue'
import type { RenderedFigure } from '@/render/figure'
import type { Layout } from '@/render/layout/figure'
import { contains } from '@/render/scene'
import { flagged } from '@/lib/flags'
import { useSelection } from '@/stores/selection'

/** More rings than these only hide what they are round. */
const MOST_RINGS = 3000

const ring = (x: number, y: number, r: number): string =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`

export function useRings(
  figure: () => RenderedFigure | null,
  layout: Readonly<Ref<Layout | null>>,
): ComputedRef<string> {
  const selection = useSelection()
  const rows = computed(() => selection.rowsIn(figure()?.document.table))
  /** Which of the marks are selected: looked up once, and not with every step of a zoom. */
  const selected = computed(() => flagged(figure()?.marks.row ?? new Uint32Array(), rows.value))
  return computed(() => {
    const made = layout.value
    if (!made || !rows.value.size || !figure()) return ''
    const found: string[] = []
    const flags = selected.value
    for (let drawn = 0; drawn < made.source.length && found.length < MOST_RINGS; drawn++) {
      if (!flags[made.source[drawn]]) continue
      const [x, y] = [made.marks.x[drawn], made.marks.y[drawn]]
      if (contains(made.marks.clip, x, y)) found.push(ring(x, y, made.radius(drawn) + 2))
    }
    return found.join('')
  })
}
