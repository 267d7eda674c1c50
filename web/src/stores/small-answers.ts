/** Answers for small pictures, remembered, so that a change of looks asks for none. */
import { askAnswer } from '@/api/client'
import type { FigureDocument } from '@/api/types'
import type { Figure as Drawn } from '@/drawing/drawn'
import { asked } from '@/model/asked'
import { useStudy } from './study'

const MOST_KEPT = 120

type Answered = Pick<Drawn, 'answer' | 'marks'>

const kept = new Map<string, Promise<Answered>>()

/** An answer with at most so many marks. */
export function smallAnswer(document: FigureDocument, mostMarks: number): Promise<Answered> {
  const studies = useStudy()
  const version = studies.tableOf(document.table)?.version
  // How categories are shown is settled by the study.
  const key = `${mostMarks} ${version} ${JSON.stringify(studies.study?.categories)} ${asked(document)}`
  const held = kept.get(key)
  if (held) return held
  const answered = askAnswer(document, { mostMarks })
  answered.catch(() => kept.delete(key))
  kept.set(key, answered)
  for (const oldest of kept.keys()) {
    if (kept.size <= MOST_KEPT) break
    kept.delete(oldest)
  }
  return answered
}
