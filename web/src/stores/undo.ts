/** Taking changes back and doing them again, wherever in the study they were made. */
import { Problem } from '@/api/client'
import type { Saved, Step } from './history'
import { useHistory } from './history'
import { copyOf } from '@/lib/copy'
import { useFigure } from './figure'
import { usePlate } from './plate'
import { useAnnouncer } from './announcer'
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
  const said = useAnnouncer()
  let work = Promise.resolve()

  type Which = 'before' | 'after'
  type Of<Kind extends Step['kind']> = Extract<Step, { kind: Kind }>

  /** How a step of each kind is taken back, or done again. */
  const APPLY: { [Kind in Step['kind']]: (step: Of<Kind>, which: Which) => Promise<unknown> } = {
    async figure(step, which) {
      if (figure.id !== step.id) await shown('figure', step.id)
      figure.putFigure(step.id, copyOf(step[which]))
    },
    async plate(step, which) {
      if (plate.id !== step.id) await shown('plate', step.id)
      if (plate.id === step.id) plate.set(copyOf(step[which]))
    },
    table: (step, which) =>
      studies.restoreVersion(step.id, step[which], step[which === 'before' ? 'after' : 'before']),
    categories: (step, which) => studies.setLooks(step.id, step[which], true),
    name: (step, which) => studies.rename(step[which], true),
    async there(step, which) {
      const own = step.figure
      if (!step[which]) {
        if (own && studies.figures.some(({ id }) => id === own))
          await studies.remove('figure', own, undefined, true)
        return studies.remove(step.of, step.id, undefined, true)
      }
      await studies.giveBack(step.of, step.id)
      if (own) await studies.giveBack('figure', own)
      if (own || step.of !== 'table')
        await show(own ? 'figure' : (step.of as 'plate'), own ?? step.id)
    },
    saved(step, which) {
      const value = step[which]
      if (value) return studies.save(value, true)
      return studies.forgetSaved(step[which === 'before' ? 'after' : 'before'] as Saved, true)
    },
  }

  /** Opens what a step belongs to; one that is not there cannot be changed. */
  async function shown(kind: 'figure' | 'plate', id: string): Promise<void> {
    const all = kind === 'figure' ? studies.figures : studies.plates
    if (!all.some((one) => one.id === id))
      throw new Problem(404, 'It is not in the study any more.')
    await show(kind, id)
  }

  const apply = (step: Step, which: Which): Promise<unknown> =>
    (APPLY[step.kind] as (step: Step, which: Which) => Promise<unknown>)(step, which)

  /** One after the other, however fast the keys are pressed. */
  function move(by: -1 | 1): Promise<void> {
    const study = studies.study?.id
    work = work.then(async () => {
      // What is on its way is the last step, though it is not known yet.
      await studies.settled()
      // Keys that were pressed in another study mean nothing in this one.
      if (studies.study?.id !== study) return
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
