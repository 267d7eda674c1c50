/**
 * What an action acts on. Ids of one sort cannot be given where those of another are expected, and a
 * row number is a value only together with its table.
 */
declare const sort: unique symbol

type Id<Sort extends string> = string & { readonly [sort]?: Sort }

export type StudyId = Id<'study'>
export type TableId = Id<'table'>
export type FigureId = Id<'figure'>
export type PlateId = Id<'plate'>

/** A row, by its own number. */
export interface RowRef {
  table: TableId
  row: number
}

/** Some rows of one table. */
export interface RowsOf {
  table: TableId
  rows: ReadonlySet<number>
}
