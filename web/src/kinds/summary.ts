/** What the data of a figure are, in words: for those who cannot see its marks. */
import type { RenderedFigure } from '@/render/figure'
import { dateText, valueText } from '@/render/geometry/ticks'
import { countOf, grouped, joined } from '@/figure-model/words'
import { drawnKind } from './renderers'

const DIGITS = 4
/** More names than these are counted only. */
const MOST_NAMED = 12

type Axis = RenderedFigure['answer']['x']
type Colour = RenderedFigure['answer']['colour']

/** What of an axis there is to be seen. */
export const axisText = ({ variable, low, high }: Axis): string => {
  if (low === null || high === null) return ''
  const [from, to] = [low, high].map((value) =>
    variable.kind === 'date' ? dateText(value) : valueText(Number(value.toPrecision(DIGITS))),
  )
  const unit = variable.unit ? ` ${variable.unit}` : ''
  return `${variable.label} from ${from} to ${to}${unit}.`
}

const namesText = (colour: Colour): string => {
  if (colour?.scale !== 'category') return ''
  const shown = colour.categories.filter((_, code) => colour.shown[code] ?? true)
  const { label } = colour.variable
  return shown.length > MOST_NAMED
    ? `${label}: ${grouped(shown.length)} categories.`
    : `${label}: ${joined(shown)}.`
}

export function summaryOf(figure: RenderedFigure): string {
  const { answer, document } = figure
  const own = drawnKind(document).says?.(figure)
  const of = own ?? [axisText(answer.x), axisText(answer.y), namesText(answer.colour)]
  return [`${countOf(answer.counts.drawn, 'mark')}.`, ...of].filter(Boolean).join(' ')
}
