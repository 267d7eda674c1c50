/** Answers for small pictures, remembered, so that a change of looks asks for none. */
import { lately } from '@/drawing/lately'
import { askAnswer } from '@/api/client'
import type { FigureDocument } from '@/api/types'
import type { Figure as Drawn } from '@/drawing/drawn'
import { asked } from '@/model/asked'
import { useStudy } from './study'

const MOST_KEPT = 120

type Answered = Pick<Drawn, 'answer' | 'marks'>

const kept = lately<string, Promise<Answered>>(MOST_KEPT)

let before: Promise<unknown> = Promise.resolve()

/** One after another: small pictures leave the server to the figure that is looked at. */
function inTurn(ask: () => Promise<Answered>): Promise<Answered> {
  const answered = before.then(ask, ask)
  before = answered
  return answered
}

/** An answer with at most so many marks. */
export function smallAnswer(document: FigureDocument, mostMarks: number): Promise<Answered> {
  const studies = useStudy()
  const version = studies.tableOf(document.table)?.version
  // How categories are shown is settled by the study.
  const key = `${mostMarks} ${version} ${JSON.stringify(studies.study?.categories)} ${asked(document)}`
  return kept.of(key, () => {
    const answered = inTurn(() => askAnswer(document, { mostMarks }))
    answered.catch(() => kept.drop(key))
    return answered
  })
}
