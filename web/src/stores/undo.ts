/** Taking changes back and doing them again, wherever in the study they were made. */
import type { Step } from './history'
import { useHistory } from './history'
import { copyOf, useFigure } from './figure'
import { usePlate } from './plate'
import { useStudy } from './study'

/** @param show opens a figure or a plate on the page */
export function useUndo(show: (kind: 'figure' | 'plate', id: string) => Promise<unknown>) {
  const history = useHistory()
  const figure = useFigure()
  const plate = usePlate()
  const studies = useStudy()
  let work = Promise.resolve()

  async function apply(step: Step, which: 'before' | 'after'): Promise<void> {
    if (step.kind === 'table') await studies.restoreVersion(step.id, step[which])
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
      const step = history.move(by)
      if (step) await apply(step, by < 0 ? 'before' : 'after')
    })
    return work
  }

  return { undo: () => move(-1), redo: () => move(1) }
}
