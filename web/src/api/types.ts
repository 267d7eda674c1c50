/** Short names for what goes over the wire. */
import type { FigureId, PlateId, StudyId, TableId } from './references'
import type { components } from './schema'

type Models = components['schemas']

/** As the server sends it: every field is there. */
type Full<T> = T extends (infer Element)[]
  ? Full<Element>[]
  : T extends object
    ? { [Key in keyof T]-?: Full<Exclude<T[Key], undefined>> }
    : T

export type FigureDocument = Full<Models['FigureDocument']>
export type PlateDocument = Full<Models['PlateDocument']>
export type Plate = Full<Models['PlateOut']> & { id: PlateId }
export type Cell = PlateDocument['cells'][number]
export type Varied = NonNullable<Cell['varied']>
export type StudyListed = Full<Models['StudyListed']>
export type ShareRequest = Models['ShareRequest']
export type ShareOut = Models['ShareOut']
export type Outgoing = Models['Outgoing']
export type Shared = Models['Shared']
/** Told apart by its family, each with that family's own settings. */
export type Trend = FigureDocument['trends'][number]
export type Vocabulary = Full<Models['Vocabulary']>
export type FamilyWords = Full<Models['FamilyWords']>
export type SettingWords = Full<Models['SettingWords']>
export type RowFilter = Full<Models['RowFilter']>
export type Condition = RowFilter['conditions'][number]
export type Lettering = Full<Models['Lettering']>
export type OwnLook = Full<Models['OwnLook']>
export type AssociationAnswer = Models['AssociationAnswer']
export type CellSide = Models['CellSide']
export type MatrixCell = Models['MatrixCell']
export type MatrixVariable = Models['MatrixVariable']
export type PairsAnswer = Models['PairsAnswer']
export type Comparison = Models['Comparison']
export type FormCompared = Comparison['forms'][number]
export type ResidualsAgainst = NonNullable<Models['ResidualsRequest']['against']>
export type Axis = Full<Models['Axis']>
export type OnFigure = Trend['on_figure'][number]
export type Answer = Models['Answer']
export type AxisAnswer = Models['AxisAnswer']
export type ColourAnswer = Models['ColourAnswer']
export type SizeAnswer = Models['SizeAnswer']
export type TrendAnswer = Models['TrendAnswer']
export type FitReport = Models['FitReport']
export type Caution = Models['Caution']
export type Counts = Models['Counts']
export type VariableWords = Models['VariableWords']
export type Study = Full<Models['StudyOut']> & { id: StudyId }
export type StudyContents = Full<Models['StudyContents']>
export type Table = Full<Models['TableOut']> & { id: TableId }
export type VariableSummary = Full<Models['VariableSummary']>
export type Figure = Full<Models['FigureOut']> & { id: FigureId }
export type Preview = Full<Models['Preview']>
export type ReadOptions = Models['ReadOptions']
export type Calls = Models['CallsOut']
export type Upload = Models['UploadOut']
export type Suggestions = Models['Suggestions']
export type DatasetFound = Full<Models['DatasetFound']>
export type TableTaken = Full<Models['TableTaken']>
export type ExpressionTried = Full<Models['ExpressionOut']>
export type DerivedIn = Full<Models['DerivedIn']>
export type VariableChanged = Full<Models['VariableChanged']>
export type RowsEdit = Models['RowsEdit']
export type Shape = Models['StackIn'] | Models['SpreadIn'] | Models['JoinIn']
export type CategoryLook = Full<Models['CategoryLook']>
export type SavedLook = Full<Models['SavedLook']>
export type SavedFormula = Full<Models['SavedFormula']>
export type SavedFilter = Full<Models['SavedFilter']>
export type TableReplaced = Full<Models['TableReplaced']>
export type Job = Models['JobOut']
export type RowsFound = Models['RowsOut']
export type Row = Models['RowOut']
export type Kind = Models['Kind']

/** Problem details (RFC 9457). */
export interface ProblemDetails {
  title: string
  status: number
  detail?: string
  row?: number
  column?: string
  position?: number
}

/** The marks of an answer, as typed arrays of the same length. */
export interface Marks {
  row: Uint32Array
  x: Float64Array
  y: Float64Array
  aside: Uint8Array
  /** A category's code, or an amount; null without a colour variable. */
  colour: Uint16Array | Float64Array | null
  /** Values that are shown as sizes. */
  size: Float64Array | null
  /** Of a dataset seen from afar, whose marks are cells: how many rows lie in each. */
  count: Float64Array | null
  /** Places among the answer's short texts, in the place of markers. */
  text: Uint16Array | null
  /** Of a matrix: the values of each of its variables. */
  columns: Float64Array[]
  /** On the third axis. */
  depth: Float64Array | null
  /** Of a distribution: by what it is told apart. */
  group: Float64Array | null
  /** By which points are connected. */
  order: Float64Array | null
  /** Ends of error bars; NaN where there is none. */
  x_low: Float64Array | null
  x_high: Float64Array | null
  y_low: Float64Array | null
  y_high: Float64Array | null
}
