/** Which words of the figure can be edited where they stand, and what an edit changes. */
import type { FigureDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import type { Layout } from '@/render/layout/figure'
import { contains, type Box, type Part } from '@/render/scene'
import { entryOf, ofEntry, withEntry, withoutNameOf } from '@/render/entries'

export interface EditedWords {
  /** What they are, for a screen reader. */
  label: string
  text: string
  /** Where the field stands, in points on the page. */
  box: Box
  edit: (draft: FigureDocument, text: string) => void
  /** What is tuned when something was written. */
  tunes?: Part
}

const LOWEST = 200
/** Where a note begins, as shares of the page. */
const NOTE_AT = { x: 0.45, y: 0.12 }

/** The words of a part of the figure; null where it has none that can be edited in place. */
export function wordsOf(
  part: Part,
  { document, answer }: RenderedFigure,
  layout: Layout,
  at: [number, number] | null = null,
): EditedWords | null {
  const region = layout.scene.regions.find(
    ({ part: own, box }) => own === part && (at === null || contains(box, ...at)),
  )
  const box = placed(region?.box ?? { x: 16, y: 12, width: LOWEST, height: 20 })
  if (part === 'title' || part === 'subtitle' || part === 'caption')
    return {
      label: part === 'title' ? 'Title' : part === 'subtitle' ? 'Subtitle' : 'Caption',
      text: document[part] ?? '',
      box: { ...box, width: document.page.width - 32, x: 16 },
      edit: (draft, text) => (draft[part] = text.trim() === '' ? null : text),
    }
  if (part === 'x-axis' || part === 'y-axis') {
    const side = part === 'x-axis' ? 'x' : 'y'
    const { label, unit } = answer[side].variable
    const standard = unit ? `${label} (${unit})` : label
    const { plot } = layout
    return {
      label: `Title of the ${side} axis`,
      text: document.axes[side].title ?? standard,
      box:
        side === 'x'
          ? { x: plot.x, y: document.page.height - 42, width: plot.width, height: 20 }
          : { x: 12, y: plot.y + plot.height / 2 - 10, width: 260, height: 20 },
      edit: (draft, text) => (draft.axes[side].title = text === standard ? null : text),
    }
  }
  if (part === 'legend') return legendWords(document, answer, layout, box, at)
  if (part.startsWith('note-')) {
    const place = Number(part.split('-')[1])
    return {
      label: 'Note',
      text: document.notes[place]?.text ?? '',
      box: { ...box, width: Math.max(LOWEST, box.width + 24) },
      edit: (draft, text) => {
        if (text.trim() === '') draft.notes.splice(place, 1)
        else draft.notes[place].text = text
      },
    }
  }
  return null
}

/** A note that is there as soon as it says something; it is dragged from the upper middle of the page. */
export const newNote = ({ page, notes }: FigureDocument): EditedWords => ({
  label: 'Note',
  tunes: `note-${notes.length}`,
  text: '',
  box: { x: NOTE_AT.x * page.width, y: NOTE_AT.y * page.height, width: LOWEST, height: 20 },
  edit: (draft, text) => {
    if (text.trim() !== '' && draft.notes.length === notes.length)
      draft.notes.push({ text, anchor: 'page', ...NOTE_AT, points_to: null })
  },
})

/** An entry of the legend, or its title. */
function legendWords(
  document: FigureDocument,
  { colour }: RenderedFigure['answer'],
  layout: Layout,
  box: Box,
  at: [number, number] | null,
): EditedWords | null {
  if (!colour) return null
  const entry = at && layout.entries.find((one) => contains(one.box, ...at))
  if (entry) {
    const named = entryOf(colour, entry.code)
    return {
      label: `Entry ${named.label}`,
      text: ofEntry(document.legend.renamed, named) ?? named.label,
      box: placed(entry.box),
      edit: (draft, text) => {
        draft.legend.renamed =
          text.trim() === '' || text === named.label
            ? withoutNameOf(draft.legend.renamed, named)
            : withEntry(draft.legend.renamed, named, text)
      },
    }
  }
  const { label, unit } = colour.variable
  const standard = unit ? `${label} (${unit})` : label
  return {
    label: 'Title of the legend',
    text: document.legend.title ?? standard,
    box,
    edit: (draft, text) => (draft.legend.title = text === standard ? null : text),
  }
}

const placed = ({ x, y, width, height }: Box): Box => ({
  x: Math.max(4, x),
  y: Math.max(4, y),
  width: Math.max(LOWEST, width),
  height,
})
