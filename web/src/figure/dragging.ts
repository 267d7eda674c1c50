/** What a press and a drag on the figure do: move the view, a name, the legend, a note; or select. */
import type { FigureDocument } from '@/api/types'
import type { Layout } from '@/drawing/layout'
import { contains, type Box, type Part } from '@/drawing/scene'

export type Tool = 'point' | 'box' | 'rope' | 'move'

/** A change of the document that follows the hand. */
export interface Drag {
  /** Names the drag, so that all of it is one step of undo. */
  what: string
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
        draft.legend.x = (legend.box.x + toX - x) / draft.page.width
        draft.legend.y = (legend.box.y + toY - y) / draft.page.height
      },
    }
  return null
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
      note.x = onData ? layout.x.fromPage(left) : left / draft.page.width
      note.y = onData ? layout.y.fromPage(top) : top / draft.page.height
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
