/** The kinds of figure: what each is called and says. */
import type { FigureDocument } from '@/api/types'
import { VOCABULARY } from '@/figure-model/vocabulary'
import type { Look } from '@/figure-model/words'
import {
  needingRows,
  plainText,
  readOnly,
  type StatementContext,
  type Statement,
} from '@/figure-model/statement/parts'
import type { FigureKind } from './figure-kind'
import { distribution } from './distribution'
import { matrix } from './matrix'
import { scatterplot } from './scatterplot'
import { space } from './space'

const KINDS: Record<FigureDocument['kind'], FigureKind> = {
  scatterplot,
  'scatterplot matrix': matrix,
  '3-D scatterplot': space,
  distribution,
}

export const kindOf = ({ kind }: Pick<FigureDocument, 'kind'>): FigureKind => KINDS[kind]

/** The statement of a figure, with what it could become. */
export function statementOf(ground: StatementContext): Statement {
  const own = kindOf(ground.document)
  const { sentence, offers } = own.statement(ground)
  const become = VOCABULARY.kinds.flatMap(({ name, by_parts }) => {
    const kind = KINDS[name as FigureDocument['kind']]
    const offered = kind === own ? null : kind.offer?.(ground)
    if (!offered) return []
    return by_parts ? [offered] : needingRows(ground, [offered])
  })
  return { sentence, offers: [...offers, ...become] }
}

/** The statement as plain text. */
export const sentenceOf = (document: FigureDocument, look: Look): string =>
  plainText(kindOf(document).statement(readOnly(document, look)))

/** What a figure is called: its own name, or what it shows. */
export const figureName = (document: FigureDocument, look: Look): string =>
  document.name ?? kindOf(document).name(document, look)

/** The way back from a part of a figure that is shown by itself. */
export const returned = (draft: FigureDocument): boolean =>
  Object.values(KINDS).some((kind) => kind !== kindOf(draft) && kind.returnTo?.(draft))
