/** What a view of a figure that can be zoomed lets others do. */
export interface Zooming {
  zoomIn: () => void
  zoomOut: () => void
  fit: () => void
  isHome: boolean
  writeNote: () => void
  /** Marks that an axis has no place for. */
  off: number
  /** Marks beyond the ends that were typed for an axis. */
  beyond: number
  /** Names that found no room. */
  unnamed: number
  /** Readings that found no room. */
  unread: number
}

/** A view that can be zoomed; null for one that cannot. */
export const zoomingOf = (view: unknown): Zooming | null =>
  typeof view === 'object' && view !== null && 'zoomIn' in view ? (view as Zooming) : null
