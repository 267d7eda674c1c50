/** All controls of a figure in one list: what finding, keys and the docs are made from. */
import type { FigureDocument } from '@/api/types'
import type { Part } from '@/render/scene'
import type { Written } from '@/render/text/lettering'
import { axisControls } from './axes'
import { barControls } from './bars'
import * as colours from './colours'
import type { Control } from './control'
import * as distribution from './distribution'
import type { CategoryEntry } from '@/render/entries'
import { entryControls } from './entries'
import { letteringControls } from './lettering'
import * as marks from './marks'
import { MARKS_OF_MATRIX, REGIONS } from './matrix'
import { referenceControls } from './references'
import { movedControls, singledControls } from './rows'
import { bandControls, READINGS, readOffControls, trendControls } from './trends'
import * as space from './space'
import * as words from './words'

export interface Found {
  control: Control
  /** The part of the figure in whose panel it stands. */
  part: Part
  /** What that panel is called. */
  panel: string
}

const flat = (held: object): Control[] =>
  Object.values(held).flatMap((one: Control | Control[]) => one)

/**
 * @param entries the categories that the figure shows, each with an entry in the legend
 * @param row a row that is looked at
 */
export function allControls(
  document: FigureDocument,
  entries: readonly CategoryEntry[] = [],
  row?: number,
): Found[] {
  const of =
    (part: Part, panel: string) =>
    (control: Control): Found => ({ part, panel, control })
  const written = (...parts: Written[]): Control[] => parts.flatMap(letteringControls)
  return [
    ...[
      ...words.WORDS,
      words.VENUE,
      ...words.pageSides('mm'),
      words.TEXT_SIZE,
      ...words.PAGE,
      ...written('title', 'subtitle', 'caption'),
    ].map(of('title', 'Titles and page')),
    ...flat(marks).map(of('marks', 'Marks')),
    ...flat(colours).map(of('marks', 'Marks')),
    ...flat(barControls('y')).map(of('marks', 'Marks')),
    ...flat(barControls('x')).map(of('marks', 'Marks')),
    ...flat(axisControls('x')).map(of('x-axis', 'x axis')),
    ...flat(axisControls('y')).map(of('y-axis', 'y axis')),
    ...written('tick_labels', 'axis_titles').map(of('y-axis', 'y axis')),
    ...[...words.LEGEND, ...written('legend')].map(of('legend', 'Legend')),
    ...(document.names ? written('names').map(of('marks', 'Marks')) : []),
    ...entries.flatMap((entry) => flat(entryControls(entry)).map(of('legend', 'Legend'))),
    ...document.references.flatMap(({ axis }, i) =>
      flat(referenceControls(i, axis === 'x' ? 'x' : 'y')).map(
        of(`reference-${i}`, 'Reference line'),
      ),
    ),
    ...document.trends.flatMap((trend, i) =>
      [
        ...flat(trendControls(i)),
        ...trend.bands.flatMap((_, band) => flat(bandControls(i, band))),
        ...trend.read_off.flatMap((_, nth) =>
          readOffControls(i, nth, `number ${nth + 1}`, entries),
        ),
      ].map(of(`trend-${i}`, 'Trend')),
    ),
    ...[...READINGS, ...(document.trends.length ? written('readings') : [])].map(
      of('readings', 'Readings on the figure'),
    ),
    ...document.notes.flatMap((_, i) =>
      [...words.noteControls(i), ...words.pointerControls(i), ...(i ? [] : written('notes'))].map(
        of(`note-${i}`, 'Note'),
      ),
    ),
    ...document.singled_out.flatMap(({ rows }, i) =>
      singledControls(i).map(of(`row-${rows[0]}`, 'Row')),
    ),
    ...(row === undefined ? [] : movedControls(row).map(of(`row-${row}`, 'Row'))),
    ...(document.space
      ? [
          ...flat(axisControls('depth')).map(of('depth-axis', 'z axis')),
          ...[...space.TURN, ...space.DEPTH, ...space.WALLS, ...space.SHADOWS].map(
            of('space', 'Box'),
          ),
        ]
      : []),
    ...(document.space?.plane ? [...space.PLANE, space.PLANE_LEVEL].map(of('plane', 'Plane')) : []),
    ...(document.distribution
      ? [
          ...distribution.SHOWN,
          ...distribution.LANES,
          ...distribution.BINS,
          ...distribution.MIDDLE,
        ].map(of('distribution', 'Distribution'))
      : []),
    ...[...REGIONS, ...MARKS_OF_MATRIX].map(of('matrix', 'Matrix')),
  ]
}
