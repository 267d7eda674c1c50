/** Taking changes back and doing them again, wherever in the study they were made. */
import { Problem } from '@/api/client'
import type { Step } from './history'
import { useHistory } from './history'
import { copyOf, useFigure } from './figure'
import { usePlate } from './plate'
import { useSaid } from './said'
import { useStudy } from './study'

/**
 * @param show opens a figure or a plate on the page
 * @param say tells the person why a step could not be taken
 */
export function useUndo(
  show: (kind: 'figure' | 'plate', id: string) => Promise<unknown>,
  say: (sentence: string) => void = () => undefined,
) {
  const history = useHistory()
  const figure = useFigure()
  const plate = usePlate()
  const studies = useStudy()
  const said = useSaid()
  let work = Promise.resolve()

  async function apply(step: Step, which: 'before' | 'after'): Promise<void> {
    const other = which === 'before' ? 'after' : 'before'
    if (step.kind === 'table')
      await studies.restoreVersion(step.id, Number(step[which]), Number(step[other]))
    else if (step.kind === 'categories') await studies.setLooks(step.id, step[which], true)
    else if (step.kind === 'plate') {
      if (plate.id !== step.id) {
        if (!studies.plates.some(({ id }) => id === step.id)) return
        await show('plate', step.id)
      }
      if (plate.id === step.id) plate.set(copyOf(step[which]))
    } else {
      if (figure.id !== step.id) {
        if (!studies.figures.some(({ id }) => id === step.id)) return
        await show('figure', step.id)
      }
      if (figure.id === step.id) figure.set(copyOf(step[which]))
    }
  }

  /** One after the other, however fast the keys are pressed. */
  function move(by: -1 | 1): Promise<void> {
    work = work.then(async () => {
      // What is on its way is the last step, though it is not known yet.
      await studies.settled()
      const step = history.move(by)
      if (!step) return
      try {
        await apply(step, by < 0 ? 'before' : 'after')
        said.say(by < 0 ? 'Undone.' : 'Done again.')
      } catch (error) {
        if (!(error instanceof Problem)) throw error
        // The step was not taken: it stands where it stood, unless it can be taken no more.
        if (error.status === 412 || error.status === 404) {
          history.forget(step.kind, step.id)
          say('This was changed elsewhere since; that step cannot be taken back any more.')
        } else {
          history.move(-by as -1 | 1)
          say(error.sentence)
        }
      }
    })
    // One step that fails does not end those after it.
    const done = work
    work = work.catch(() => undefined)
    return done
  }

  return { undo: () => move(-1), redo: () => move(1) }
}
