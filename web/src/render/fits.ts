/** Everything that was fitted on a figure, whatever its kind: lines, and planes in a box. */
import type { Answer, FitReport, TrendAnswer } from '@/api/types'

type PlaneReport = NonNullable<Answer['space']>['planes'][number]
type Reading = FitReport['readings'][number]

/** Where a number is read off that has no single x. */
export type PlacedReading = Reading & { at?: string }

const value = (place: number | string | null): string => (place === null ? '?' : String(place))

/** What lines say and planes do not. */
const NOT_OF_PLANES = {
  r_squared_log: null,
  measures: [],
  aicc: null,
  left_out_error: null,
  parameters: null,
  r: null,
  correlations: [],
  errors: 'equal' as const,
  r_low: null,
  r_high: null,
}

/** A plane in the words of a line: what is read off it stands at two places. */
function planeAs(report: PlaneReport, { x, space }: Answer): TrendAnswer {
  const readings = report.readings.map((r): PlacedReading => ({
    x: r.across,
    y: r.up,
    mean_low: r.mean_low,
    mean_high: r.mean_high,
    new_low: r.new_low,
    new_high: r.new_high,
    carried_on: r.carried_on,
    name: r.name,
    x_place: r.places[0] ?? 0,
    y_place: r.places[2] ?? 0,
    at: `${x.variable.in_sentence} ${value(r.across)}, ${space!.depth.variable.in_sentence} ${value(r.depth)}`,
  }))
  return {
    trend: 0,
    family_label: report.family_label,
    group_code: report.group_code,
    group_value: null,
    curve: null,
    carried: [],
    with_all: null,
    report: {
      ...NOT_OF_PLANES,
      ...report,
      family: 'plane',
      readings,
      solutions: [],
    },
  }
}

/** Every fit of an answer, in order. */
export const fitsOf = (answer: Answer): TrendAnswer[] => [
  ...answer.trends,
  ...(answer.space?.planes ?? []).map((report) => planeAs(report, answer)),
]
