/** What a press and a drag on the figure do: move the view, a name, the legend, a note; or select. */
import type { FigureDocument } from '@/api/types'
import type { Layout } from '@/render/layout/figure'
import { contains, type Box, type Part } from '@/render/scene'

export type Tool = 'point' | 'box' | 'rope' | 'move'

/** A change of the document that follows the hand. */
export interface Drag {
  /** Names the drag, so that all of it is one step of undo. */
  what: string
  /** The axis whose ends it moves. */
  axis?: 'x' | 'y'
  edit: (draft: FigureDocument, x: number, y: number) => void
}

const holding = (layout: Layout, part: (part: Part) => boolean, x: number, y: number) =>
  layout.scene.regions.find((region) => part(region.part) && contains(region.box, x, y))

/** What can be dragged at a place, in points; null where nothing can. */
export function dragAt(
  layout: Layout,
  document: FigureDocument,
  x: number,
  y: number,
  isZoomed = false,
): Drag | null {
  const name = layout.names.find(({ box }) => contains(box, x, y))
  if (name) return moveName(layout, document, name.row, name.box, x, y)
  const note = holding(layout, (part) => part.startsWith('note-'), x, y)
  if (note) return moveNote(layout, Number(note.part.split('-')[1]), note.box, x, y)
  const legend = holding(layout, (part) => part === 'legend', x, y)
  if (legend)
    return {
      what: 'legend place',
      edit: (draft, toX, toY) => {
        draft.legend.place = 'free'
        draft.legend.x = (legend.box.x + toX - x) / layout.scene.width
        draft.legend.y = (legend.box.y + toY - y) / layout.scene.height
      },
    }
  const readings = holding(layout, (part) => part === 'readings', x, y)
  if (readings)
    return {
      what: 'readings place',
      edit: (draft, toX, toY) => {
        draft.readings.place = 'free'
        draft.readings.x = (readings.box.x + toX - x) / layout.scene.width
        draft.readings.y = (readings.box.y + toY - y) / layout.scene.height
      },
    }
  // The ends of a box's axes are typed: a drag turns it.
  if (layout.isTurned) return null
  const axis = holding(layout, (part) => part === 'x-axis' || part === 'y-axis', x, y)
  if (axis) return moveEnds(layout, axis.part === 'x-axis' ? 'x' : 'y', x, y, isZoomed)
  return null
}

/**
 * An axis is dragged by what lies under the hand: near an end that end follows, with the other one
 * held; in the middle both do.
 */
function moveEnds(
  layout: Layout,
  side: 'x' | 'y',
  x: number,
  y: number,
  isZoomed: boolean,
): Drag | null {
  const { warp, domain, range } = layout[side]
  const [low, high] = domain.map(warp.forward)
  const shareOf = (px: number, py: number): number =>
    ((side === 'x' ? px : py) - range[0]) / (range[1] - range[0])
  const from = shareOf(x, y)
  if (from < 0 || from > 1) return null
  const held = low + from * (high - low)
  // The square root has no place below zero.
  const back = (warped: number): number =>
    warp.back(warp.least === 0 ? Math.max(0, warped) : warped)
  return {
    what: `ends ${side}`,
    axis: side,
    edit: (draft, toX, toY) => {
      const to = shareOf(toX, toY)
      const axis = draft.axes[side]
      // The end that is not moved stays where it is seen, which is not where the document has it.
      if (isZoomed) [axis.low, axis.high] = domain
      if (from < 0.3 && to < 0.95) axis.low = back((held - to * high) / (1 - to))
      else if (from > 0.7 && to > 0.05) axis.high = back(low + (held - low) / to)
      else if (from >= 0.3 && from <= 0.7) {
        const by = (to - from) * (high - low)
        axis.low = back(low - by)
        axis.high = back(high - by)
      }
    },
  }
}

function moveName(
  layout: Layout,
  { names }: FigureDocument,
  row: number,
  box: Box,
  x: number,
  y: number,
): Drag | null {
  const mark = layout.rowPlace(row)
  if (!names || !mark) return null
  return {
    what: `name ${row}`,
    edit: (draft, toX, toY) => {
      draft.names!.moved[String(row)] = [box.x + toX - x - mark[0], box.y + toY - y - mark[1]]
    },
  }
}

function moveNote(layout: Layout, place: number, box: Box, x: number, y: number): Drag {
  return {
    what: `note ${place}`,
    edit: (draft, toX, toY) => {
      const note = draft.notes[place]
      const [left, top] = [box.x + toX - x, box.y + toY - y]
      const onData = note.anchor === 'data'
      note.x = onData ? layout.x.fromPage(left) : left / layout.scene.width
      note.y = onData ? layout.y.fromPage(top) : top / layout.scene.height
    },
  }
}

/** The corners of a box between two places. */
export const boxOutline = (x0: number, y0: number, x1: number, y1: number): number[] => [
  x0,
  y0,
  x1,
  y0,
  x1,
  y1,
  x0,
  y1,
]
