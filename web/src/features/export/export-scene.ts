/** What is exported: the figure or the plate that is open. */
import { computed } from 'vue'
import type { RenderedFigure } from '@/render/figure'
import { layoutPlate } from '@/plates/layout'
import type { Scene } from '@/render/scene'
import { sceneOf } from '@/kinds/renderers'
import { measure } from '@/render/text/measure'
import { altOf } from '@/kinds/alt-text'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useStudy } from '@/stores/study'
import { figureName } from '@/kinds'
import { plateName } from '@/plates/names'

export interface Handed {
  kind: 'figure' | 'plate'
  name: string
  /** What it shows, for people who cannot see it. */
  alt: string
  page: { width: number; height: number }
  scene: () => Scene
  /** The figures in it. */
  figures: RenderedFigure[]
}

export function useHanded() {
  const figure = useFigure()
  const plate = usePlate()
  const studies = useStudy()

  const altFor = (shown: RenderedFigure): string => altOf(shown, studies.variableOf)

  return computed((): Handed | null => {
    const plated = plate.document
    if (plated) {
      const figures = plate.panels.flatMap((panel) => panel.figure ?? [])
      return {
        kind: 'plate',
        name: plateName(plated, studies.figures, studies.variableOf),
        alt: plated.caption ?? figures.map(altFor).join(' '),
        page: plated.page,
        scene: () => layoutPlate(plated, plate.panels, measure).scene,
        figures,
      }
    }
    const drawn = figure.drawn
    if (!drawn || !figure.document) return null
    // A change whose answer is not there yet is not exported: neither its picture nor its name.
    return {
      kind: 'figure',
      name: figureName(drawn.document, studies.variableOf),
      alt: altFor(drawn),
      page: drawn.document.page,
      scene: () => sceneOf(drawn, measure),
      figures: [drawn],
    }
  })
}
