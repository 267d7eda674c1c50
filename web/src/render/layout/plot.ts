/** The plot of a pair and its axes, with all that stands where its values put it. */
import { fromHex } from '@/render/colours'
import type { RenderedFigure } from '@/render/figure'
import { grown } from '@/render/geometry/boxes'
import { placeMarks, type PlacedMarks } from '@/render/marks/places'
import { drawAxis, gridItems } from '@/render/parts/axes'
import { barItems } from '@/render/parts/bars'
import { outlined } from '@/render/parts/frame'
import { marginItems } from '@/render/parts/margins'
import { markerItems } from '@/render/parts/markers'
import {
  connectItems,
  noteItems,
  referenceItems,
  type ReferenceLabel,
} from '@/render/parts/overlays'
import { bandItems, drawnTrends, lineItems, type DrawnTrend } from '@/render/parts/trends'
import type { FigureWords } from '@/render/parts/words'
import type { Scale } from '@/render/geometry/scale'
import type { Box, Item, Region } from '@/render/scene'
import type { Measure } from '@/render/text/text'
import type { Axis } from '@/api/types'
import { span, type View } from './extents'
import { arrange, scalesOf, squared, type Room, type Scales, type Setting } from './insets'
import { preparedFor } from './preparation'

export interface Plot extends Scales {
  box: Box
  placed: PlacedMarks
  trends: DrawnTrend[]
  /** Grid lines, which words may stand over. */
  grid: Item[]
  /** What is drawn inside the plot, from the lowest up; nothing that finds its own place covers it. */
  drawn: Item[]
  notes: Item[]
  /** Words of reference lines, which find their own place. */
  labels: ReferenceLabel[]
  /** The axes, and what stands beside them. */
  beside: Item[]
  regions: { notes: Region[]; axes: Region[]; references: Region[] }
}

/** @param room what is kept free beside and below the plot */
export function plotAt(
  figure: RenderedFigure,
  view: View,
  room: Room,
  words: FigureWords,
  setting: Setting,
  measure: Measure,
): Plot {
  const { document, answer, marks } = figure
  const { axes, page, size } = document
  const paper = fromHex(page.background)
  const { looks, columns } = preparedFor(figure)
  const arranged = arrange(figure, view, words, room, setting, measure)
  const box = axes.equal ? squared(arranged.plot, view) : arranged.plot
  const scales = scalesOf(document, view, box)
  const { x, y } = scales
  const radius = size ? size.largest / 2 : 0
  const clip = grown(box, Math.max(radius, Math.min(6, document.marks.size / 2 + 1)))
  const placed = placeMarks(document, columns, looks, x, y, clip, paper)
  const trends = drawnTrends(document, answer, x, y)
  const references = referenceItems(document, answer, scales, box, measure)
  const notes = noteItems(document, scales, measure)
  const across = drawAxis('x', arranged.x, x, span(answer.x), box, {
    frame: axes.frame,
    crossing: crossing(axes.y, y),
  })
  const up = drawAxis('y', arranged.y, y, span(answer.y), box, {
    frame: axes.frame,
    crossing: crossing(axes.x, x),
  })
  return {
    ...scales,
    box,
    placed,
    trends,
    grid: [...gridItems('x', arranged.x, x, box), ...gridItems('y', arranged.y, y, box)],
    drawn: [
      ...references.under,
      ...bandItems(document, answer, x, y, clip),
      ...connectItems(document, answer, marks, looks, placed.all, clip),
      ...barItems(document, marks, looks, placed.all, scales, clip),
      ...(markerItems(figure, placed, paper, measure) ?? [placed.item]),
      ...references.over,
      ...lineItems(document, trends, clip),
    ],
    notes: notes.items,
    labels: references.labels,
    beside: [
      ...(axes.frame === 'box' ? [outlined(box, axes.x.colour, Math.max(0.5, axes.x.width))] : []),
      ...across.items,
      ...up.items,
      ...marginItems(document, answer, 'x', x, box),
      ...marginItems(document, answer, 'y', y, box),
    ],
    regions: {
      notes: notes.regions,
      axes: [
        { part: 'x-axis', box: across.box },
        { part: 'y-axis', box: up.box },
      ],
      references: references.regions,
    },
  }
}

/** Where this axis crosses the other one, if it is to stand at a value that is in view. */
function crossing({ crosses }: Axis, scale: Scale): number | null {
  if (crosses === null || crosses < scale.domain[0] || crosses > scale.domain[1]) return null
  return scale.toPage(crosses)
}
