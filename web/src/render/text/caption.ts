/** Captions whose readings stay true: what stands in braces is filled in from the answer. */
import type { Answer, FigureDocument, FitReport, TrendAnswer } from '@/api/types'
import { bandsText } from './intervals'
import { fitsOf } from '@/render/fits'
import { literal } from './text'
import { levelText, pText, rSquaredText, shareText, short } from './numbers'

/** What can be filled in, each with what it stands for. */
export const FIELDS = {
  number: 'place among the figures of the study',
  fits: 'every line with its equation, R² and n',
  equation: 'equation',
  'R²': 'R²',
  r: 'correlation',
  p: 'p',
  n: 'rows fitted, or drawn where no line is',
  bands: 'what the bands are',
  'read off': 'what was read off',
  'set aside': 'how many rows are set aside',
} as const

export type Field = keyof typeof FIELDS

const IN_BRACES = new RegExp(`(?<![\\^_])\\{(${Object.keys(FIELDS).join('|')})\\}`, 'g')
/** Where a reading does not exist. */
const NONE = '–'

const place = (value: number | string | null): string =>
  value === null ? 'open' : typeof value === 'number' ? short(value) : value

/** What was read off a fit, each as a sentence without its stop. */
export function readOffLines({ readings, solutions, level }: FitReport): string[] {
  const named = (name: string | null | undefined, text: string) =>
    name ? `${name}: ${text}` : text
  const carried = (is: boolean) => (is ? ', outside the data' : '')
  return [
    ...readings.map((r) =>
      named(
        r.name,
        `${'at' in r ? `at ${String(r.at)}` : `at x = ${place(r.x)}`}, y = ${r.y === null ? 'no value' : place(r.y)}` +
          (r.mean_low === null
            ? ''
            : ` (${levelText(level)} interval of the mean ${place(r.mean_low)} to ${place(r.mean_high)}` +
              (r.new_low === null
                ? ')'
                : `; of a new row ${place(r.new_low)} to ${place(r.new_high)})`)) +
          carried(r.carried_on),
      ),
    ),
    ...solutions.map((s) =>
      named(
        s.name,
        s.x === null
          ? `y = ${place(s.y)} is never reached. ${s.note}`.trim()
          : `y = ${place(s.y)} at x = ${place(s.x)}` +
              (s.low === null && s.high === null
                ? ''
                : ` (${levelText(level)} interval ${place(s.low)} to ${place(s.high)})`) +
              carried(s.carried_on),
      ),
    ),
  ]
}

const fitted = ({ report }: TrendAnswer): boolean => report.problem === null

const whom = ({ report }: TrendAnswer): string =>
  report.group === null ? '' : `${literal(report.group)}, `

function fitText(trend: TrendAnswer): string {
  const { report, family_label } = trend
  const said = [rSquaredText(report), `n = ${report.n.toLocaleString('en')}`].filter(Boolean)
  const equation = report.equation ? `: ${report.equation}` : ''
  return [
    `${whom(trend)}${family_label}${equation} (${said.join(', ')})`,
    ...readOffLines(report),
  ].join('; ')
}

/** One reading for each line, with its group where there are several. */
function each(answer: Answer, read: (report: FitReport) => string | null): string {
  const found = fitsOf(answer)
    .filter(fitted)
    .flatMap((trend) => {
      const text = read(trend.report)
      return text === null ? [] : [(fitsOf(answer).length > 1 ? whom(trend) : '') + text]
    })
  return found.join('; ')
}

const some = (value: number | null | undefined, write: (value: number) => string): string | null =>
  value == null ? null : write(value)

export function fieldText(
  field: Field,
  document: FigureDocument,
  answer: Answer,
  number: number | null,
): string {
  const { association, counts } = answer
  switch (field) {
    case 'number':
      return number === null ? '' : String(number)
    case 'fits':
      return fitsOf(answer).filter(fitted).map(fitText).join('; ')
    case 'equation':
      return each(answer, ({ equation }) => equation)
    case 'R²':
      return each(answer, (fit) => some(fit.r_squared_log ?? fit.r_squared, shareText))
    case 'r':
      return each(answer, ({ r }) => some(r, shareText)) || shareOf(association?.r)
    case 'p':
      return each(answer, ({ p_value }) => some(p_value, pText)) || pOf(association?.p_value)
    case 'n':
      return (
        each(answer, ({ n }) => n.toLocaleString('en')) ||
        (association?.n ?? counts.drawn).toLocaleString('en')
      )
    case 'bands':
      return document.trends.length
        ? bandsText(document.trends[0].bands, document.trends[0].errors)
        : ''
    case 'read off':
      return each(answer, (fit) => readOffLines(fit).join('; ') || null)
    case 'set aside':
      return String(counts.set_aside)
  }
}

const shareOf = (value: number | null | undefined): string =>
  value == null ? '' : shareText(value)
const pOf = (value: number | null | undefined): string => (value == null ? '' : pText(value))

/** The caption with its readings filled in. */
export const captionText = (
  caption: string | null,
  document: FigureDocument,
  answer: Answer,
  number: number | null,
): string | null =>
  caption?.replace(
    IN_BRACES,
    (_, field: Field) => fieldText(field, document, answer, number) || NONE,
  ) ?? null
