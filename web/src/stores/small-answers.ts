/** Answers for small pictures, remembered, so that a change of looks asks for none. */
import { lately } from '@/drawing/lately'
import { askAnswer } from '@/api/client'
import type { FigureDocument } from '@/api/types'
import type { Figure as Drawn } from '@/drawing/drawn'
import { asked } from '@/model/asked'
import { inTurn, type Turn } from '@/in-turn'
import { useStudy } from './study'

const MOST_KEPT = 120

type Answered = Pick<Drawn, 'answer' | 'marks'>

const kept = lately<string, Turn<Answered>>(MOST_KEPT)

/** One after another: small pictures leave the server to the figure that is looked at. */
const put = inTurn()

/**
 * An answer with at most so many marks.
 *
 * @param signal that it is waited for no more: what nobody waits for is not asked
 */
export function smallAnswer(
  document: FigureDocument,
  mostMarks: number,
  signal: AbortSignal,
): Promise<Answered> {
  const studies = useStudy()
  const version = studies.tableOf(document.table)?.version
  // How categories are shown is settled by the study.
  const key = `${mostMarks} ${version} ${JSON.stringify(studies.study?.categories)} ${asked(document)}`
  const turn = kept.of(key, () => {
    const made = put(() => askAnswer(document, { mostMarks }))
    made.answered.catch(() => kept.drop(key))
    return made
  })
  return turn.wait(signal)
}
