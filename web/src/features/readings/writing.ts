/** The readings as text, Markdown, CSV and JSON, to be taken elsewhere. */
import { csvFormatRows } from 'd3-dsv'
import type { Answer, FitReport } from '@/api/types'
import { familyOf } from '@/figure-model/families'
import { readOffLines } from '@/render/text/caption'
import { errorsText } from '@/render/text/intervals'
import { fitsOf } from '@/render/fits'
import { levelText, pText, shareText, short } from '@/render/text/numbers'

/** A value that has a name, as it is read. */
export interface Line {
  label: string
  value: string
}

/** Rows that were not fitted, by reason. */
const NOT_FITTED: Record<string, string> = {
  missing: 'Rows with a missing value',
  set_aside: 'Rows set aside',
  no_weight: 'Rows without a weight',
  no_error: 'Rows without an error bar',
}

export const mainLines = ({
  r_squared,
  r_squared_log,
  measures,
  r,
  n,
  p_value,
}: FitReport): Line[] => [
  // On the scale of the fit first.
  ...(r_squared_log == null ? [] : [{ label: 'R² of ln y', value: shareText(r_squared_log) }]),
  ...(r_squared == null
    ? []
    : [{ label: r_squared_log == null ? 'R²' : 'R² of y', value: shareText(r_squared) }]),
  ...(measures ?? []).map(({ label, value }) => ({ label, value: shareText(value) })),
  { label: 'n', value: n.toLocaleString('en') },
  ...(r == null ? [] : [{ label: 'r', value: shareText(r) }]),
  ...(p_value == null ? [] : [{ label: 'p', value: pText(p_value).replace('= ', '') }]),
]

/** Coefficients by their own names, where a formula that was typed names them. */
export const namedLines = ({ family, coefficients, level }: FitReport): Line[] =>
  familyOf(family).settings.some(({ control }) => control === 'text')
    ? coefficients.flatMap(({ name, label = name, value, low, high, was_given }) => {
        if (value === null) return []
        if (was_given) return [{ label, value: `${short(value)}, given` }]
        const interval =
          low !== null && high !== null
            ? ` (${levelText(level)} interval ${short(low)} to ${short(high)})`
            : ''
        return [{ label, value: short(value) + interval }]
      })
    : []

/** What a plane is tested by. */
type FTested = FitReport & { f?: number | null; df_fit?: number | null }

/** Everything else that a fit says. */
export function detailLines(report: FitReport): Line[] {
  const { coefficients, level } = report
  const level_ = levelText(level)
  const lines = coefficients.flatMap(
    ({ name, label = name, value, se, low, high, was_given, p_value }): Line[] => {
      if (value === null) return []
      if (was_given) return [{ label, value: `${short(value)}, given` }]
      const lines = [{ label, value: short(value) }]
      if (se !== null) lines.push({ label: 'standard error', value: short(se) })
      if (low !== null && high !== null)
        lines.push({ label: `${level_} interval`, value: `${short(low)} to ${short(high)}` })
      if (p_value != null) lines.push({ label: 'p', value: pText(p_value).replace('= ', '') })
      return lines
    },
  )
  const allowing = errorsText(report.errors)
  if (allowing) lines.push({ label: 'Intervals', value: allowing })
  const more: [string, number | null | undefined, (value: number) => string][] = [
    ['Adjusted R²', report.adjusted_r_squared, shareText],
    ['Residual SD', report.residual_sd, short],
    ['Cross-validation error', report.left_out_error, short],
    ['AICc', report.aicc, short],
    ['Degrees of freedom', report.degrees_of_freedom, short],
  ]
  for (const { one, other, r } of report.correlations ?? [])
    if (r !== null) lines.push({ label: `r of ${one} and ${other}`, value: shareText(r) })
  const { f, df_fit, degrees_of_freedom: df } = report as FTested
  if (f != null && df_fit != null && df != null)
    lines.push({ label: `F(${df_fit}, ${df})`, value: short(f) })
  if (report.r_low != null && report.r_high != null)
    lines.push({
      label: `r, ${level_}`,
      value: `${shareText(report.r_low)} to ${shareText(report.r_high)}`,
    })
  for (const [label, value, write] of more)
    if (value != null) lines.push({ label, value: write(value) })
  for (const [reason, count] of Object.entries(report.dropped))
    if (count) lines.push({ label: NOT_FITTED[reason] ?? reason, value: String(count) })
  return lines
}

/** The words of an equation without marks for what is raised or lowered. */
const plain = (text: string): string => text.replace(/[\^_]\{([^{}]*)\}/g, '^$1')

const whom = ({ group }: FitReport): string => group ?? 'All rows'

/** How the groups of trends compare: their slopes, each two lines, and what is read off. */
export const comparisons = ({ slopes, differences }: Answer): string[] => [
  ...slopes.flatMap(({ sentence, adjusted, pairs }) => [
    ...(adjusted ? [adjusted] : []),
    sentence,
    ...pairs.map((pair) => pair.sentence),
  ]),
  ...differences.map(({ sentence }) => sentence),
]

/** All readings of a figure as plain text, or as Markdown. */
export function written(answer: Answer, title: string, markdown: boolean): string {
  const head = (text: string, level: number) => (markdown ? `${'#'.repeat(level)} ${text}` : text)
  const item = (text: string) => (markdown ? `- ${text}` : `  ${text}`)
  const out = [head(title, 1), '']
  for (const { report, family_label } of fitsOf(answer)) {
    out.push(head(`${whom(report)}: ${family_label}`, 2))
    if (report.problem !== null) {
      out.push(report.problem ?? '', '')
      continue
    }
    if (report.equation) out.push(plain(report.equation))
    out.push(report.sentence ?? '')
    for (const { label, value } of [...mainLines(report), ...detailLines(report)])
      out.push(item(`${plain(label)}: ${value}`))
    for (const line of readOffLines(report)) out.push(item(line))
    out.push('')
  }
  for (const sentence of comparisons(answer)) out.push(sentence, '')
  if (answer.association) {
    const { r, n, p_value } = answer.association
    out.push(`r = ${shareText(r)}, n = ${n}${p_value === null ? '' : `, p ${pText(p_value)}`}`, '')
  }
  if (answer.cautions.length) out.push(head('Cautions', 2))
  for (const { title: of, text } of answer.cautions) out.push(item(`${of}: ${text}`))
  return `${out.join('\n').trim()}\n`
}

/** How a formula may begin, behind signs that a spreadsheet passes over; as the server has it. */
const FORMULA = /^'*[\s\p{Cc}\p{Cf}]*[=+\-@＝＋－＠﹢﹣\t\r\n]/u
const PLAIN_NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?$/

/** A cell that a spreadsheet would run as a formula is made plain text. */
const safe = (text: string): string =>
  FORMULA.test(text) && !PLAIN_NUMBER.test(text) ? `'${text}` : text

/** Rows as CSV, of which no cell is run as a formula. */
const safeRows = (rows: string[][]): string => csvFormatRows(rows.map((row) => row.map(safe)))

/** Every number of the readings, one in a row. */
export function asCsv(answer: Answer): string {
  const rows: string[][] = [['trend', 'group', 'family', 'reading', 'value', 'low', 'high']]
  const cell = (value: number | string | null | undefined): string =>
    value == null ? '' : String(value)
  for (const { trend, report } of fitsOf(answer)) {
    const add = (
      reading: string,
      value: number | string | null | undefined,
      low: number | string | null = null,
      high: number | string | null = null,
    ) =>
      rows.push(
        [String(trend + 1), report.group ?? '', report.family, reading].concat([
          cell(value),
          cell(low),
          cell(high),
        ]),
      )
    if (report.problem !== null) {
      add('problem', report.problem)
      continue
    }
    add('equation', report.equation)
    for (const c of report.coefficients) add(c.name, c.value, c.low, c.high)
    add('r_squared', report.r_squared)
    add('adjusted_r_squared', report.adjusted_r_squared)
    for (const { label, value } of report.measures ?? []) add(label, value)
    add('residual_sd', report.residual_sd)
    add('left_out_error', report.left_out_error)
    add('aicc', report.aicc)
    add('r', report.r, report.r_low ?? null, report.r_high ?? null)
    add('p_value', report.p_value)
    add('n', report.n)
    for (const r of report.readings) add(r.name ?? `y at ${r.x}`, r.y, r.mean_low, r.mean_high)
    for (const s of report.solutions) add(s.name ?? `x at y ${s.y}`, s.x, s.low, s.high)
  }
  return safeRows(rows)
}

export const asJson = (answer: Answer): string =>
  JSON.stringify(
    {
      fits: fitsOf(answer).map(({ report }) => report),
      slopes: answer.slopes,
      differences: answer.differences,
      association: answer.association,
      cautions: answer.cautions,
    },
    null,
    2,
  )

/** The trend carried on, as a table of its own: one row for each place. */
export function carriedCsv(answer: Answer, dated: (x: number) => string): string {
  const rows: string[][] = [['group', 'x', 'y', 'low', 'high']]
  for (const { carried, report } of answer.trends)
    for (const { x, y, bands } of carried)
      x.forEach((at, i) => {
        const [band] = bands
        const ends = band ? [band.low[i], band.high[i]] : [null, null]
        rows.push([report.group ?? '', dated(at), ...[y[i], ...ends].map((v) => String(v ?? ''))])
      })
  return safeRows(rows)
}
