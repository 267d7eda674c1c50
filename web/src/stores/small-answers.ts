/** Answers for small pictures, one after another: the server is left to the figure that is looked at. */
import { askAnswer } from '@/api/client'
import type { FigureDocument } from '@/api/types'
import type { RenderedFigure } from '@/render/figure'
import { serialQueue } from '@/lib/serial-queue'
import { asked } from '@/figure-model/answer-key'
import { isSuperseded, queryClient, type Key } from './query-client'
import { useKeys } from './queries'

type Answered = Pick<RenderedFigure, 'answer' | 'marks'>

const queue = serialQueue()

/** Asks for answers with few marks, and says by which keys they are kept. */
export function useSmallAnswers() {
  const keyOf = useKeys()
  const key = (document: FigureDocument, mostMarks: number): Key =>
    keyOf('smallAnswer', document.table, mostMarks, asked(document))

  /** @param signal that it is waited for no more: what nobody waits for is not asked */
  async function ask(
    document: FigureDocument,
    mostMarks: number,
    signal: AbortSignal,
  ): Promise<Answered> {
    for (;;)
      try {
        return await queryClient.fetchQuery({
          queryKey: key(document, mostMarks),
          queryFn: () => queue(() => askAnswer(document, { mostMarks }), signal),
        })
      } catch (error) {
        // Another picture of the same asked first and waits no more; this one still does.
        if (!isSuperseded(error) || signal.aborted) throw error
      }
  }

  return { key, ask }
}
