/** What the statement of the open figure is made from. */
import type { useFigure } from '@/stores/figure'
import type { useSide } from '@/stores/side'
import type { useStudy } from '@/stores/study'
import type { StatementContext } from '@/figure-model/statement/parts'

export const statementContext = (
  figure: ReturnType<typeof useFigure>,
  studies: ReturnType<typeof useStudy>,
  side: ReturnType<typeof useSide>,
): StatementContext => ({
  document: figure.document!,
  variables: studies.tableOf(figure.document!.table)?.summary.variables ?? [],
  look: studies.variableOf,
  drawn: figure.drawn?.answer.counts.drawn ?? 0,
  needsRows: figure.needsRows,
  edit: figure.edit,
  tune: side.tune,
  seek: side.seek,
  showPairs: () => side.show({ kind: 'pairs' }),
})
