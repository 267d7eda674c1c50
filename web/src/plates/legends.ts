/** Legends that the figures of a plate share. */
import type { Answer, FigureDocument, PlateDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { looksOf } from '@/render/marks/looks'
import type { Block } from '@/render/parts/block'
import { legendBlock } from '@/render/parts/legend'
import type { Measure } from '@/render/text/text'
import { panelFigure, type Panel } from './panel'

interface Shown {
  figure: RenderedFigure
  heading: string
}

/** One legend for figures that colour and size alike, with what any of them shows. */
export function sharedLegends(
  plate: PlateDocument,
  panels: readonly Panel[],
  measure: Measure,
): Block[] {
  const groups = new Map<string, Shown[]>()
  for (const { figure, heading } of panels) {
    if (!figure) continue
    const { document, answer } = figure
    const key = JSON.stringify([
      answer.colour?.variable.label,
      answer.colour?.scale,
      document.size?.variable,
      document.trends.map(({ family, colour, dash }) => [family, colour, dash]),
    ])
    groups.set(key, [...(groups.get(key) ?? []), { figure, heading }])
  }
  return [...groups.values()].flatMap((shown) => {
    // Where each figure is of one category, and its heading says which, there is nothing to tell.
    if (shown.every(isTold)) return []
    const figures = shown.map(({ figure }) => figure)
    const first = panelFigure(plate, figures[0], plate.page.width, plate.page.height)
    const document: FigureDocument = {
      ...first.document,
      legend: { ...figures[0].document.legend, place: 'right' },
    }
    const answer = { ...first.answer, colour: seenIn(figures) }
    const looks = looksOf(document, answer, first.marks, plate.page.width * plate.page.height * 0.1)
    return legendBlock(document, answer, looks, { top: 0, below: 0 }, measure) ?? []
  })
}

function isTold({ figure: { document, answer }, heading }: Shown): boolean {
  const { colour } = answer
  if (colour?.scale !== 'category' || document.size) return false
  const names = colour.categories.filter((_, code) => colour.shown[code])
  return names.length === 1 && heading.includes(names[0])
}

function seenIn(figures: RenderedFigure[]): Answer['colour'] {
  const { colour } = figures[0].answer
  if (!colour) return null
  const known = figures.flatMap(({ answer }) => (answer.colour ? [answer.colour] : []))
  const low = known.flatMap((one) => one.low ?? [])
  const high = known.flatMap((one) => one.high ?? [])
  // A shared page knows in each figure only the categories that are there.
  const values = [...new Set(known.flatMap((one) => one.values))]
  const whose = values.map((value) => known.find((one) => one.values.includes(value))!)
  const at = (i: number): number => whose[i].values.indexOf(values[i])
  return {
    ...colour,
    categories: values.map((_, i) => whose[i].categories[at(i)]),
    values,
    turns: values.map((_, i) => whose[i].turns[at(i)]),
    colours: values.map((_, i) => whose[i].colours[at(i)]),
    shown: values.map((value) => known.some((one) => one.shown[one.values.indexOf(value)])),
    low: low.length ? Math.min(...low) : null,
    high: high.length ? Math.max(...high) : null,
    missing: known.reduce((sum, { missing }) => sum + missing, 0),
  }
}
